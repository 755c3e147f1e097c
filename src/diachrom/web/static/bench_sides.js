// Photos of both sides: in each, the first touch is the grey patch, the second the nose, the third
// the tail.
import { _ } from "./kit/words.js";
const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
for (const form of document.querySelectorAll(".side-form")) {
  const photo = form.parentElement.querySelector(".side-photo"),
    size = photo.viewBox.baseVal;
  const inputs = [...form.querySelectorAll("[data-asks]")],
    next = form.querySelector(".side-next");
  let meant = null;

  const rings = (places) => {
    for (const ring of photo.querySelectorAll("circle")) ring.remove();
    for (const [x, y] of places)
      for (const look of ["mark mark-under", "mark"]) {
        const ring = document.createElementNS("http://www.w3.org/2000/svg", "circle");
        for (const [key, value] of Object.entries({
            class: look,
            cx: x,
            cy: y,
            r: size.width /
              80
          })) ring.setAttribute(key, value);
        photo.append(ring);
      }
  };
  const draw = () => {
    const set = inputs.filter((input) => input.value),
      open = inputs.find((input) => !input.value);
    rings([...set.map((input) => input.value.split(",")), ...(meant ? [meant] : [])]);
    next.textContent = open ? _("Touch {what}.", { what: open.dataset.asks }) :
      _("Use these places, or touch the grey patch again.");
    form.querySelector("button").disabled = Boolean(open);
  };
  const put = (x, y) => {
    if (inputs.every((input) => input.value))
      for (const input of inputs) input.value = "";
    inputs.find((input) => !input.value).value = `${x.toFixed(1)},${y.toFixed(1)}`;
    meant = null;
    draw();
  };
  if (inputs.every((input) => input.value)) // they were found
    rings(inputs.map((input) => input.value.split(",")));
  photo.addEventListener("pointerdown", (event) => {
    const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(photo
      .getScreenCTM().inverse());
    if (place.x >= 0 && place.y >= 0 && place.x < size.width && place.y < size.height) put(place
      .x, place.y);
  });
  photo.addEventListener("keydown", (event) => {
    if (event.key === "Enter" && meant) { event.preventDefault(); return put(...meant); }
    const way = ways[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const step = event.shiftKey ? 1 : 10,
      [x, y] = meant ?? [size.width / 2, size.height / 2];
    meant = [Math.min(Math.max(x + step * way[0], 0), size.width - 1), Math.min(Math.max(y +
      step * way[1], 0), size.height - 1)];
    draw();
  });
}
