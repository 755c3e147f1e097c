// The tilt: everything on the page that has an angle follows one control. All angles came with the
// page.
import { _ } from "./words.js";
const SHOWN = "diachrom-tilt";
const wide = window.matchMedia("(color-gamut: p3)");
const [least, most] = [15, 110];
let tilt = Number(sessionStorage.getItem(SHOWN) ?? 25);

const control = () => document.getElementById("tilt");
const linear = (value) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4);
const encoded = (value) => (value <= 0.0031308 ? 12.92 * value : 1.055 * value ** (1 / 2.4) -
  0.055);
const fromHex = (text) => [1, 3, 5].map((at) => parseInt(text.slice(at, at + 2), 16) / 255);

// Between two of the angles light mixes as light does.
const between = (one, other, share) =>
  one.map((value, at) => encoded(linear(value) * (1 - share) + linear(other[at]) * share));

const turn = () => {
  const angles = (control()?.dataset.angles ?? "").split(" ").map(Number);
  if (angles.length < 2) return;
  let low = angles.findLastIndex((angle) => angle <= tilt);
  low = Math.min(Math.max(low, 0), angles.length - 2);
  const share = Math.min(Math.max((tilt - angles[low]) / (angles[low + 1] - angles[low]), 0), 1);
  for (const painted of document.querySelectorAll("[data-tilt]")) {
    const name = painted.tagName === "stop" ? "stop-color" : "fill";
    if (wide.matches) {
      const values = painted.dataset.tiltP3.split(", ").map((triple) => triple.split(" ").map(
        Number));
      painted.setAttribute(name,
        `color(display-p3 ${between(values[low], values[low + 1], share).map((v) => v.toFixed(4)).join(" ")})`
      );
    } else {
      const fills = painted.dataset.tilt.split(" ");
      const [r, g, b] = between(fromHex(fills[low]), fromHex(fills[low + 1]), share).map((v) =>
        Math.round(255 * v));
      painted.setAttribute(name, `rgb(${r} ${g} ${b})`);
    }
  }
  for (const spark of document.querySelectorAll("[data-sparkle]")) {
    spark.setAttribute("opacity", Math.abs(Number(spark.dataset.sparkle) - tilt) < 9 ? "0.95" :
      "0.08");
  }
  const words = tilt < 22 ? _("in the flash") : tilt < 40 ? _("near the flash") : tilt < 62 ?
    _("half turned") : _("at the flop");
  document.getElementById("tilt-degrees").textContent = Math.round(tilt);
  document.getElementById("tilt-words").textContent = words;
  document.getElementById("tilt-bait").setAttribute("transform",
    `rotate(${((tilt - 15) * 0.42).toFixed(1)} 75 64)`);
  control().setAttribute("aria-valuenow", Math.round(tilt));
  control().setAttribute("aria-valuetext",
    _("{degrees} degrees from the flash, {words}", { degrees: Math.round(tilt), words }));
};

const set = (value) => {
  tilt = Math.min(most, Math.max(least, value));
  sessionStorage.setItem(SHOWN, String(tilt));
  turn();
};

let from = null;
document.addEventListener("pointerdown", (event) => {
  if (!event.target.closest?.("#tilt")) return;
  from = { x: event.clientX, tilt };
  control().setPointerCapture(event.pointerId);
});
document.addEventListener("pointermove", (event) => {
  if (from) set(from.tilt + (event.clientX -
    from.x) * 0.6);
});
document.addEventListener("pointerup", () => { from = null; });
document.addEventListener("pointercancel", () => { from = null; });

const step = { ArrowLeft: -5, ArrowRight: 5 };
document.addEventListener("key", (event) => {
  if (event.detail in step && control()) {
    set(tilt + step[event.detail]);
    event.preventDefault();
  }
});
document.addEventListener("htmx:afterSettle", turn);
wide.addEventListener("change", turn);
turn();
