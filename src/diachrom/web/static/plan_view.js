// Nearer and farther: the wheel, two fingers, + and -; and a ruler beneath the bait.

const NEAREST = 8,
  WHEEL = 0.0016;

/**
 * Let a picture be looked at from near.
 * @param {HTMLCanvasElement} canvas
 * @param {{pose: {zoom: number, shift: number[]}, middle: function(): number[], place: function(Event): number[],
 *   began: function(), draw: function(boolean)}} how places in the picture's own units; `began` when two fingers take over
 */
export const zooming = (canvas, { pose, middle, place, began, draw }) => {
  const fingers = new Map();
  let spread = 0,
    held = null;
  const about = ([x, y], wanted) => {
    const at = middle();
    if (!at) return;
    const zoom = Math.min(Math.max(wanted, 1), NEAREST),
      by = zoom / pose.zoom;
    pose.shift = zoom === 1 ? [0, 0] : [0, 1].map((k) => pose.shift[k] + ([x, y][k] - at[k]) * (
      1 -
      by));
    pose.zoom = zoom;
    draw(true);
  };
  canvas.addEventListener("wheel", (event) => {
    // At its smallest the page goes on scrolling.
    if (event.deltaY > 0 && pose.zoom === 1) return;
    event.preventDefault();
    const turns = event.deltaMode ? 30 * event.deltaY : event.deltaY;
    about(place(event), pose.zoom * Math.exp(-WHEEL * turns));
  }, { passive: false });
  canvas.addEventListener("dblclick", () => about([0, 0], 1));
  canvas.addEventListener("keydown", (event) => {
    const by = { "+": 1.25, "-": 0.8, 0: 0 } [event.key];
    if (by === undefined || event.ctrlKey || event.metaKey || !middle()) return;
    event.preventDefault();
    event.stopPropagation();
    const box = canvas.getBoundingClientRect();
    about(place({ clientX: box.left + box.width / 2, clientY: box.top + box.height / 2 }),
      pose
      .zoom * by);
  });
  const two = () => {
    const [a, b] = [...fingers.values()];
    return {
      far: Math.hypot(a[0] - b[0], a[1] - b[1]),
      at: [(a[0] + b[0]) / 2, (a[1] + b[1]) /
        2
      ]
    };
  };
  canvas.addEventListener("pointerdown", (event) => {
    fingers.set(event.pointerId, place(event));
    if (fingers.size !== 2) return;
    began();
    const { far, at } = two();
    [spread, held] = [far, at];
  });
  canvas.addEventListener("pointermove", (event) => {
    if (!fingers.has(event.pointerId)) return;
    fingers.set(event.pointerId, place(event));
    if (fingers.size !== 2) return;
    const { far, at } = two();
    if (pose.zoom > 1) pose.shift = pose.shift.map((one, k) => one + at[k] - held[k]);
    about(at, pose.zoom * far / Math.max(spread, 1));
    [spread, held] = [far, at];
  });
  for (const end of ["pointerup", "pointercancel"])
    canvas.addEventListener(end, (event) => fingers.delete(event.pointerId));
};

/**
 * A ruler along the bait, from its nose, at the foot of the picture.
 * @param {CanvasRenderingContext2D} context
 * @param {Body} bait standing
 * @param {number} ratio px of the canvas for one of the picture
 * @param {string} units metric or imperial
 */
export const ruler = (context, bait, ratio, units) => {
  const { scale, width, height } = bait.at, long = bait.skin.head.geometry.length_mm;
  const inch = units === "imperial",
    unit = inch ? 25.4 / 8 : 1; // a tick
  const nose = Math.min(bait.project(0, 0, 0)[0], bait.project(1, 0, 0)[0]),
    tick = (scale / long) * unit,
    foot = height - 8;
  const far = inch ? 8 : 10,
    every = tick < 2.2 ? far : tick < 5 ? far / 2 : 1;
  context.save();
  context.scale(ratio, ratio);
  context.strokeStyle = context.fillStyle = "#fff";
  // On a phone the picture is small, and its figures are not.
  const letters = Math.max(12, (11 * Math.min(window.devicePixelRatio || 1, 2)) / ratio),
    by = letters / 12;
  context.font = `${letters}px Figures, monospace`;
  context.textAlign = "center";
  context.lineWidth = 1;
  context.beginPath();
  for (let k = Math.ceil(-nose / tick); nose + k * tick < width; k++) {
    if (k < 0 || k % every) continue;
    const x = nose + k * tick,
      high = k % far === 0 ? 14 : k % (far / 2) === 0 ? 10 : 6;
    context.moveTo(x, foot);
    context.lineTo(x, foot - high * by);
    if (k % far === 0 && (far * tick > 2.3 * letters || k % (5 * far) === 0))
      context.fillText(inch ? `${k / 8}″` : `${k}`, x, foot - 18 * by);
  }
  context.moveTo(Math.max(nose, 0), foot);
  context.lineTo(width, foot);
  context.stroke();
  context.textAlign = "right";
  if (!inch) context.fillText("mm", width - 4, foot - 18 * by);
  context.restore();
};
