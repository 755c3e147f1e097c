// The practice card: what the hand sprays is seen at once; when it is lifted the server judges the film along the line.

import { bytes } from "./kit/screen.js";
import { Airbrush } from "./plan_strokes.js";

const FINE = 4, // places a mm
  DARK = 0.16, // absorbance of a um
  PAPER = 0.86; // linear light
const canvas = document.getElementById("card"),
  form = document.getElementById("practice-form"),
  points = document.getElementById("practice-points"),
  context = canvas.getContext("2d");
const wide = canvas.width / 8,
  high = canvas.height / 8,
  [across, down] = [wide * FINE, high * FINE];
const small = document.createElement("canvas");
[small.width, small.height] = [across, down];
const image = small.getContext("2d").createImageData(across, down);
let film = new Float32Array(across * down),
  strokes = [];

const number = (name) => Number(form.elements[name].value.replace(",", "."));
// How wide paint lands: the core's rule.
const disc = () => Math.max(2.5 * number("nozzle_mm") / 0.3, 0.2 * number("distance_mm")) * (number(
  "pressure_bar") / 1.4) ** 0.25;

const spot = (x, y, radius, each) => {
  const [left, right] = [x - radius, x + radius].map((one) => Math.round(one * FINE));
  for (let i = Math.max(left, 0); i <= Math.min(right, across - 1); i++)
    for (let j = Math.max(Math.round((y - radius) * FINE), 0); j <= Math.min(Math.round((y +
          radius) *
        FINE), down - 1); j++) {
      const near = 1 - (((i + 0.5) / FINE - x) ** 2 + ((j + 0.5) / FINE - y) ** 2) / radius ** 2;
      if (near > 0) film[j * across + i] += each * near * near;
    }
};
const stretch = (a, b) => {
  const wide_mm = disc(),
    way = Math.hypot(b[0] - a[0], b[1] - a[1]),
    count = Math.max(1, Math.ceil(6 * way / wide_mm));
  const each = Number(canvas.dataset.flow) / wide_mm * (b[2] - a[2]) / count;
  for (let k = 0; k < count; k++) {
    const part = (k + 0.5) / count;
    spot(a[0] + (b[0] - a[0]) * part, a[1] + (b[1] - a[1]) * part, wide_mm / 2, each);
  }
};
const draw = () => {
  for (let at = 0; at < film.length; at++) {
    const [tone] = bytes([PAPER * Math.exp(-DARK * film[at]), 0, 0]);
    image.data.set([tone, tone, tone, 255], 4 * at);
  }
  small.getContext("2d").putImageData(image, 0, 0);
  context.drawImage(small, 0, 0, canvas.width, canvas.height);
};

const cell = (event) => {
  const box = canvas.getBoundingClientRect(),
    u = (event.clientX - box.left) / box.width * wide,
    v = (event.clientY - box.top) / box.height * high;
  return u >= -5 && u <= wide + 5 && v >= -5 && v <= high + 5 ? { u, v } : null;
};
const airbrush = new Airbrush({ cell, mm: (a, b) => Math.hypot(a.u - b.u, a.v - b.v) });
let standing = 0,
  due = 0;
const follow = () => {
  const stroke = airbrush.strokes.at(-1);
  if (stroke)
    for (; airbrush.shown < stroke.length; airbrush.shown++)
      if (airbrush.shown) stretch(stroke[airbrush.shown - 1], stroke[airbrush.shown]);
  due ||= requestAnimationFrame(() => {
    due = 0;
    draw();
  });
};
canvas.addEventListener("pointerdown", (event) => {
  if (!event.isPrimary) return;
  canvas.setPointerCapture(event.pointerId);
  airbrush.begin(event);
  clearInterval(standing);
  standing = setInterval(() => {
    const stood = airbrush.stand(performance.now());
    if (stood) {
      stretch(...stood);
      draw();
    }
  }, 100);
  follow();
});
canvas.addEventListener("pointermove", (event) => {
  if (!airbrush.down) return;
  for (const one of event.getCoalescedEvents?.() ?? [event]) airbrush.move(one);
  follow();
});
canvas.addEventListener("pointerup", (event) => {
  if (!airbrush.down) return;
  clearInterval(standing);
  airbrush.rest(event);
  follow();
  strokes.push(...airbrush.take());
  points.value = JSON.stringify(strokes.map((one) => one.map(([x, y, s]) => [x, y, s].map((
      value) =>
    Number(value.toFixed(3))))));
  form.requestSubmit();
  points.value = "";
});
canvas.addEventListener("pointercancel", () => {
  clearInterval(standing);
  airbrush.take();
});
document.getElementById("practice-clean").addEventListener("click", () => {
  film = new Float32Array(across * down);
  strokes = [];
  document.getElementById("practised").replaceChildren();
  draw();
});
// A stroke that was typed is seen as well.
document.addEventListener("htmx:afterSwap", () => {
  const told = document.querySelector("[data-strokes]");
  if (!told || strokes.length) return;
  film = new Float32Array(across * down);
  for (const stroke of JSON.parse(told.dataset.strokes))
    for (let k = 1; k < stroke.length; k++) stretch(stroke[k - 1], stroke[k]);
  draw();
});
draw();
