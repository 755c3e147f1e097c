// A wheel of hues at one lightness, the grey in its middle, and beside it the strip of lightnesses:
// a colour is picked by
// touch or by keys and goes into the field that asked for it.

import { _ } from "./words.js";
import { bytes, hex, linear, ring } from "./screen.js";

const dialog = document.getElementById("wheel");
const disc = document.getElementById("wheel-disc");
const strip = document.getElementById("wheel-strip");
const patch = document.getElementById("wheel-patch");
const words = document.getElementById("wheel-words");
const [RIM, MARK] = [110, 9]; // chroma at the rim; pixels
const at = { light: 60, chroma: 40, hue: 60 };
let field = null; // which asked
let sends = false; // and is sent at once

const WHITE = [0.95047, 1, 1.08883]; // of the screen
const TO_SCREEN = [
  [3.2404542, -1.5371385, -0.4985314],
  [-0.969266, 1.8760108, 0.041556],
  [0.0556434, -0.2040259, 1.0572252]
];
const FROM_SCREEN = [
  [0.4124564, 0.3575761, 0.1804375],
  [0.2126729, 0.7151522, 0.072175],
  [0.0193339, 0.119192, 0.9503041]
];
const times = (matrix, value) => matrix.map((row) => row[0] * value[0] + row[1] * value[1] + row[
  2] * value[2]);
// Linear light of the screen's channels; outside 0 to 1 it cannot be shown.
const shown = (light, a, b) => {
  const middle = (light + 16) / 116;
  const cube = (one) => (one > 6 / 29 ? one ** 3 : 3 * (6 / 29) ** 2 * (one - 4 / 29));
  return times(TO_SCREEN, [middle + a / 500, middle, middle - b / 200].map((one, axis) => WHITE[
    axis] * cube(one)));
};
const fits = (channels) => channels.every((one) => one > -0.0005 && one < 1.0005);
const polar = (light, chroma, hue) => shown(light, chroma * Math.cos((hue * Math.PI) / 180),
  chroma * Math.sin((hue * Math.PI) / 180));
// The strongest that the screen shows of a hue at a lightness, no stronger than wanted.
const strongest = (light, chroma, hue) => {
  if (fits(polar(light, chroma, hue))) return chroma;
  let [low, high] = [0, chroma];
  for (let turn = 0; turn < 12; turn += 1) {
    const middle = (low + high) / 2;
    if (fits(polar(light, middle, hue))) low = middle;
    else high = middle;
  }
  return low;
};
const now = () => polar(at.light, strongest(at.light, at.chroma, at.hue), at.hue);

const take = (text) => {
  const found = /^#?([0-9a-f]{6})$/i.exec(text.trim());
  if (!found) return;
  const channels = [0, 2, 4].map((from) => linear(parseInt(found[1].slice(from, from + 2), 16) /
    255));
  const [x, y, z] = times(FROM_SCREEN, channels).map((one, axis) => {
    const part = one / WHITE[axis];
    return part > (6 / 29) ** 3 ? Math.cbrt(part) : part / (3 * (6 / 29) ** 2) + 4 / 29;
  });
  const [a, b] = [500 * (x - y), 200 * (y - z)];
  Object.assign(at, {
    light: 116 * y - 16,
    chroma: Math.hypot(a, b),
    hue: ((Math.atan2(b, a) *
      180) / Math.PI + 360) % 360
  });
};

const paint = (canvas, colour) => {
  const picture = new ImageData(canvas.width, canvas.height);
  for (let y = 0; y < canvas.height; y += 1) {
    const row = colour(y);
    for (let x = 0; x < canvas.width; x += 1) {
      const channels = row(x);
      if (channels) picture.data.set([...bytes(channels), 255], 4 * (y * canvas.width + x));
    }
  }
  return picture;
};
// The disc is that of one lightness, and drawn anew for another only.
let drawn = { light: NaN, picture: null };
const discAt = (light, half, scale) => {
  if (drawn.light !== light) {
    const picture = paint(disc, (y) => (x) => {
      const [a, b] = [(x - half + 0.5) * scale, (half - y - 0.5) * scale];
      const chroma = Math.hypot(a, b);
      if (chroma > RIM) return null;
      if (chroma > 0.93 * RIM) { // the rim: each hue at its strongest
        const hue = (Math.atan2(b, a) * 180) / Math.PI;
        return polar(light, strongest(light, RIM, hue), hue);
      }
      const channels = shown(light, a, b);
      return fits(channels) ? channels : null;
    });
    drawn = { light, picture };
  }
  return drawn.picture;
};
const draw = () => {
  const half = disc.width / 2;
  const scale = RIM / half;
  const chroma = strongest(at.light, at.chroma, at.hue);
  let pen = disc.getContext("2d");
  pen.putImageData(discAt(at.light, half, scale), 0, 0);
  const turn = (at.hue * Math.PI) / 180;
  ring(pen, half + (chroma / scale) * Math.cos(turn), half - (chroma / scale) * Math.sin(turn),
    MARK);
  pen = strip.getContext("2d");
  pen.putImageData(paint(strip, (y) => {
    const light = 100 * (1 - (y + 0.5) / strip.height);
    const channels = polar(light, strongest(light, at.chroma, at.hue), at.hue);
    return () => channels;
  }), 0, 0);
  ring(pen, strip.width / 2, strip.height * (1 - at.light / 100), MARK);
  patch.setAttribute("fill", hex(now()));
  words.textContent =
    _("Lightness {light}, chroma {chroma}, hue {hue}°", {
      light: Math.round(at.light),
      chroma: Math.round(chroma),
      hue: Math.round(at.hue) % 360
    });
  disc.setAttribute("aria-valuetext", words.textContent);
  disc.setAttribute("aria-valuenow", Math.round(at.hue) % 360);
  strip.setAttribute("aria-valuenow", Math.round(at.light));
};

const inside = (event, canvas) => {
  const box = canvas.getBoundingClientRect();
  return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
};
const moves = {
  wheel: (x, y) => {
    const [a, b] = [(2 * x - 1) * RIM, (1 - 2 * y) * RIM];
    at.hue = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
    at.chroma = strongest(at.light, Math.min(Math.hypot(a, b), RIM), at.hue);
  },
  strip: (_, y) => { at.light = Math.min(Math.max(100 * (1 - y), 0), 100); },
};
for (const [canvas, move] of [
    [disc, moves.wheel],
    [strip, moves.strip]
  ]) {
  const follow = (event) => {
    move(...inside(event, canvas));
    draw();
  };
  canvas.addEventListener("pointerdown", (event) => {
    canvas.setPointerCapture(event.pointerId);
    follow(event);
  });
  canvas.addEventListener("pointermove", (event) => {
    if (canvas.hasPointerCapture(event.pointerId))
      follow(event);
  });
}
const limit = (value, most) => Math.min(Math.max(value, 0), most);
const onDisc = {
  ArrowLeft: () => { at.hue = (at.hue + 355) % 360; },
  ArrowRight: () => {
    at.hue = (
      at.hue + 5) % 360;
  },
  ArrowUp: () => { at.chroma = limit(at.chroma + 4, RIM); },
  ArrowDown: () => { at.chroma = limit(strongest(at.light, at.chroma, at.hue) - 4, RIM); }
};
const onStrip = {
  ArrowUp: () => { at.light = limit(at.light + 2, 100); },
  ArrowDown: () => {
    at
      .light = limit(at.light - 2, 100);
  }
};
dialog.addEventListener("keydown", (event) => {
  const ways = event.target === disc ? onDisc : event.target === strip ? onStrip : {};
  if (!ways[event.key]) return;
  event.preventDefault();
  ways[event.key]();
  draw();
});

// The bead beside a field shows its colour.
const bead = (input) => {
  const circle = input.form?.querySelector(`[data-wheel="${CSS.escape(input.name)}"] circle`);
  if (circle && /^#[0-9a-f]{6}$/i.test(input.value)) {
    circle.setAttribute("fill", input.value);
    circle.classList.remove("bead-dashed");
  }
};
document.addEventListener("input", (event) => { if (event.target.name) bead(event.target); });
const title = document.getElementById("wheel-title");
const onwards = document.getElementById("wheel-next");
// The beads of the form that asked; of those without a colour first, from here on.
const nextBead = () => {
  const beads = [...field.form.querySelectorAll("[data-wheel]")]
    .filter((one) => one.checkVisibility({ visibilityProperty: true }));
  const here = beads.findIndex((one) => one.dataset.wheel === field.name);
  const after = [...beads.slice(here + 1), ...beads.slice(0, here)];
  return after.find((one) => one.querySelector(".bead-dashed")) ?? beads[here + 1];
};
const open = (button) => {
  field = button.form.elements[button.dataset.wheel];
  sends = "wheelSends" in button.dataset;
  take(field.value);
  const many = button.form.querySelectorAll("[data-wheel]").length > 1;
  title.textContent = many ? button.getAttribute("aria-label") : title.dataset.plain;
  onwards.hidden = !many || !nextBead();
  draw();
  if (!dialog.open) dialog.showModal();
  disc.focus();
};
const put = () => {
  field.value = hex(now());
  field.dispatchEvent(new Event("input", { bubbles: true }));
};
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-wheel]");
  if (button) open(button);
});
onwards.addEventListener("click", () => {
  put();
  const button = nextBead();
  if (!button) return dialog.close();
  button.scrollIntoView({ block: "nearest" });
  return open(button);
});
document.getElementById("wheel-take").addEventListener("click", () => {
  put();
  dialog.close();
  if (sends) field.form.requestSubmit();
});
