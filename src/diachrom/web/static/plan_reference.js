// The reference photo: the first touch is the nose, the second the tail; then each touch is a
// zone's colour.
import { _ } from "./kit/words.js";
const photo = document.getElementById("photo"),
  form = document.getElementById("ends");
const ends = [];
const marks = ["at-under", "at"].map((id) => document.getElementById(id)),
  lines = ["line-under", "line"].map((id) => document.getElementById(id));
let meant = null;

const draw = () => {
  const size = photo.viewBox.baseVal,
    radius = size.width / 90,
    here = meant ?? ends.at(-1);
  for (const one of marks) {
    one.setAttribute("r", here ? radius : 0);
    if (here) {
      one
        .setAttribute("cx", here[0]);
      one.setAttribute("cy", here[1]);
    }
  }
  if (ends.length === 2)
    for (const one of lines)["x1", "y1", "x2", "y2"].forEach((key, at) => one.setAttribute(key,
      ends[at >> 1][at & 1]));
  document.getElementById("ends-next").textContent = ends.length === 0 ?
    _("Touch the nose, then the tail.") : ends.length === 1 ? _("Now touch the tail.") :
    _("Straighten it, or touch both again.");
  form.querySelector("button").disabled = ends.length !== 2;
  if (ends.length === 2)[form.nose_x, form.nose_y, form.tail_x, form.tail_y].forEach((input,
    at) => { input.value = ends[at >> 1][at & 1].toFixed(1); });
};
const put = (point) => {
  if (ends.length === 2) {
    ends.length = 0;
    for (const one of lines)
      for (const key of ["x1", "y1", "x2", "y2"]) one.removeAttribute(key);
  }
  ends.push(point);
  meant = null;
  draw();
};

photo?.addEventListener("pointerdown", (event) => {
  const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(photo.getScreenCTM()
      .inverse()),
    size = photo.viewBox.baseVal;
  if (place.x >= 0 && place.y >= 0 && place.x < size.width && place.y < size.height) put([place
    .x, place.y
  ]);
});
photo?.addEventListener("keydown", (event) => {
  const size = photo.viewBox.baseVal,
    way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } [event
      .key
    ];
  if (event.key === "Enter" && meant) { event.preventDefault(); return put(meant); }
  if (!way) return;
  event.preventDefault();
  event.stopPropagation();
  const step = event.shiftKey ? 1 : 10,
    [x, y] = meant ?? [size.width / 2, size.height / 2];
  meant = [Math.min(Math.max(x + step * way[0], 0), size.width - 1), Math.min(Math.max(y +
    step * way[1], 0), size.height - 1)];
  draw();
});

document.addEventListener("pointerdown", (event) => {
  const straight = event.target.closest?.("#straight");
  if (!straight) return;
  const box = straight.getBoundingClientRect(),
    chosen = document.querySelector("[name=zone]:checked");
  const values = {
    x: ((event.clientX - box.left) / box.width).toFixed(4),
    y: ((event.clientY -
      box.top) / box.height).toFixed(4)
  };
  htmx.ajax("POST",
    `/plan/${straight.dataset.number}/zones/${chosen?.value ?? 0}/touch`, {
      target: "#zones",
      swap: "morph:outerHTML",
      values
    });
});
