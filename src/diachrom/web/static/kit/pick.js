// The photo: the first touch marks the grey patch, those after it the colour; arrow keys move the
// ring that is meant.
const form = document.getElementById("pick");
const photo = document.getElementById("photo");
const next = document.getElementById("pick-next");
const marks = {
  grey: document.getElementById("mark-grey"),
  spot: document.getElementById(
    "mark-spot")
};
const inputs = { grey: [form.grey_x, form.grey_y], spot: [form.x, form.y] };
const isSet = (key) => inputs[key].every((input) => input.value !== "");
const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
let wanted = "grey";

const draw = () => {
  for (const key of ["grey", "spot"]) {
    const [x, y] = inputs[key].map((input) => input.value);
    const shown = isSet(key) && !(key === "grey" && form.no_grey.checked);
    for (const ring of marks[key].children) {
      ring.setAttribute("r", shown ? Math.max(3, Number(form.radius.value)) : 0);
      ring.setAttribute("cx", x || 0);
      ring.setAttribute("cy", y || 0);
    }
  }
  if (wanted === "grey" && (form.no_grey.checked || isSet("grey"))) wanted = "spot";
  next.textContent = next.dataset[wanted === "grey" ? "grey" : isSet("spot") ? "ready" : "spot"];
};
const put = (x, y) => {
  const size = photo.viewBox.baseVal;
  inputs[wanted][0].value = Math.min(Math.max(Math.floor(x), 0), size.width - 1);
  inputs[wanted][1].value = Math.min(Math.max(Math.floor(y), 0), size.height - 1);
};
photo.addEventListener("pointerdown", (event) => {
  const size = photo.viewBox.baseVal;
  const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(photo.getScreenCTM()
    .inverse());
  if (place.x < 0 || place.y < 0 || place.x >= size.width || place.y >= size.height) return;
  put(place.x, place.y);
  draw();
});
photo.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && isSet(wanted)) {
    event.preventDefault();
    if (wanted === "spot") form.requestSubmit();
    wanted = "spot";
    draw();
    return;
  }
  const way = ways[event.key];
  if (!way) return;
  event.preventDefault();
  event.stopPropagation();
  const size = photo.viewBox.baseVal;
  const [x, y] = isSet(wanted) ? inputs[wanted].map((input) => Number(input.value)) : [size
    .width / 2, size.height / 2
  ];
  const step = event.shiftKey ? 1 : 8;
  put(x + step * way[0], y + step * way[1]);
  const moving = wanted;
  draw();
  wanted = moving; // the ring that is being moved, until a touch or a press says otherwise
});
document.getElementById("again").addEventListener("click", () => {
  for (const input of inputs.grey) input.value = "";
  form.no_grey.checked = false;
  wanted = "grey";
  draw();
});
form.addEventListener("input", draw);
draw();
