// What lies on the bait and can be dragged: a stencil by its outline, turned and sized by its handle, and each stroke.

const NEAR = 16; // px of the picture within which a stroke is touched

/**
 * What of a layer lies there.
 * @param {string} own the plan's address
 * @param {string} layer its number
 */
export const lies = async (own, layer) => {
  const answer = await fetch(`${own}/layers/${layer}/lies`);
  return answer.ok ? new Lying(await answer.json()) : null;
};

class Lying {
  constructor(found) { Object.assign(this, found); }

  // Where the handle is: at the end of the stencil's width.
  handle(bait, drag) {
    if (!this.outlines.length) return null;
    const at = shifted(this, drag),
      [half, angle] = [at.size_mm / 2, at.angle_deg * Math.PI / 180];
    return [at.u + half * Math.cos(angle) / bait.skin.head.geometry.length_mm, at.v - half * Math
      .sin(
        angle) / bait.girth(at.u)
    ];
  }

  /**
   * @param {CanvasRenderingContext2D} context
   * @param {Body} bait standing
   * @param {{ratio: number, drag: object|null, chosen: number}} how
   */
  paint(context, bait, { ratio, drag, chosen }) {
    const at = shifted(this, drag);
    const dot = ([u, v]) => {
      const [, y, z] = bait.place(u, v), [x, top] = bait.project(u, y, z);
      return [x * ratio, top * ratio];
    };
    const path = (points, closed, dashes = []) => {
      for (const [width, colour] of [
          [4, "#000"],
          [2, "#fff"]
        ]) {
        context.beginPath();
        points.forEach((point, k) => context[k ? "lineTo" : "moveTo"](...dot(point)));
        if (closed) context.closePath();
        context.lineWidth = width;
        context.strokeStyle = colour;
        context.setLineDash(colour === "#fff" ? dashes : []);
        context.stroke();
      }
      context.setLineDash([]);
    };
    const long = bait.skin.head.geometry.length_mm,
      right = bait.faces(0.5, 0.25) < 0;
    const side = (v) => right ? 1 - v : v;
    for (const outline of this.outlines)
      path(outline.map(([u, v]) => {
        const [x, y] = turned([(u - this.at[0]) * long, (v - this.at[1]) * bait.girth(u)], at
          .turn,
          at.times);
        return [at.u + x / long, side(at.v + y / bait.girth(at.u))];
      }), true, [8, 5]);
    const handle = this.handle(bait, drag);
    if (handle) {
      const [x, y] = dot([handle[0], side(handle[1])]);
      for (const [radius, colour] of [
          [9, "#000"],
          [7, "#fff"]
        ]) {
        context.beginPath();
        context.arc(x, y, radius * Math.max(1, ratio / 1.5), 0, 2 * Math.PI);
        context.fillStyle = colour;
        context.fill();
      }
    }
    const stroke = this.strokes[drag?.stroke ?? chosen];
    if (!stroke) return;
    const by = drag?.stroke === undefined ? [0, 0] : drag.by;
    const points = stroke.map(([u, v]) => [u + by[0], v + by[1]]);
    if (points.length > 1) path(points, false, [6, 4]);
    for (const point of points.slice(0, 60)) {
      const [x, y] = dot(point);
      context.beginPath();
      context.arc(x, y, 4, 0, 2 * Math.PI);
      context.strokeStyle = "#000";
      context.lineWidth = 4;
      context.stroke();
      context.strokeStyle = "#fff";
      context.lineWidth = 2;
      context.stroke();
    }
  }
}

const turned = ([x, y], degrees, times) => {
  const angle = -degrees * Math.PI / 180; // y runs down
  return [times * (x * Math.cos(angle) - y * Math.sin(angle)), times * (x * Math.sin(angle) + y *
    Math
    .cos(angle))];
};

// A stencil as it is dragged.
const shifted = (lying, drag) => ({
  u: (lying.at?.[0] ?? 0) + (drag?.outlines ? drag.by[0] : 0),
  v: (lying.at?.[1] ?? 0) + (drag?.outlines ? drag.by[1] : 0),
  turn: drag?.turn ?? 0,
  times: drag?.times ?? 1,
  size_mm: (lying.size_mm ?? 0) * (drag?.times ?? 1),
  angle_deg: (lying.angle_deg ?? 0) + (drag?.turn ?? 0)
});

const inside = (outlines, u, v) => outlines.reduce((odd, outline) => outline.reduce((within, [u1,
  v1
], k) => {
  const [u0, v0] = outline[(k || outline.length) - 1];
  return (v0 > v) !== (v1 > v) && u < u0 + (v - v0) * (u1 - u0) / (v1 - v0) ? !within :
    within;
}, odd), false);

/**
 * What of it the hand holds.
 * @param {object} page the plan's page
 * @param {Lying|null} lying
 * @param {PointerEvent} event
 * @returns {object|null} with `move(event)`, which follows the hand
 */
export const held = (page, lying, event) => {
  const bait = page.bait(),
    start = page.cell(event);
  if (!lying || !start) return null;
  const folded = (cell) => Math.min(cell.v, 1 - cell.v),
    [x, y] = page.place(event);
  const far = ([u, v]) => {
    const [, py, pz] = bait.place(u, v), [px, top] = bait.project(u, py, pz);
    return Math.hypot(px - x, top - y);
  };
  const handle = lying.handle(bait, null),
    right = start.v > 0.5;
  const long = bait.skin.head.geometry.length_mm;
  if (handle && far([handle[0], right ? 1 - handle[1] : handle[1]]) < 1.5 * NEAR) {
    const drag = { outlines: true, by: [0, 0], turn: 0, times: 1 };
    drag.move = (moved) => {
      const here = page.cell(moved);
      if (!here) return;
      const dx = (here.u - lying.at[0]) * long,
        up = -(folded(here) - lying.at[1]) * bait.girth(lying.at[0]);
      drag.turn = Math.round(Math.atan2(up, dx) * 180 / Math.PI - lying.angle_deg);
      drag.times = Math.max(0.1, Math.hypot(dx, up) / (lying.size_mm / 2));
    };
    return drag;
  }
  const nearest = lying.strokes.map((stroke, k) => [Math.min(...stroke.map(far)), k]).sort((a,
      b) =>
    a[0] - b[0])[0];
  if (nearest && nearest[0] < NEAR) {
    const drag = { stroke: nearest[1], by: [0, 0], girth: bait.girth(start.u), long };
    drag.move = (moved) => {
      const here = page.cell(moved);
      if (here) drag.by = [here.u - start.u, here.v - start.v];
    };
    return drag;
  }
  if (!lying.outlines.length || !inside(lying.outlines, start.u, folded(start)) && Math.hypot((
      start
      .u - lying.at[0]) * long, (folded(start) - lying.at[1]) * bait.girth(start.u)) > lying
    .size_mm /
    2) return null;
  const drag = { outlines: true, by: [0, 0], girth: bait.girth(lying.at[0]), long };
  drag.move = (moved) => {
    const here = page.cell(moved);
    if (here) drag.by = [here.u - start.u, folded(here) - folded(start)];
  };
  return drag;
};

/**
 * What is asked of the server when it is let go.
 * @param {object} drag
 * @returns {[string, object]|null} a path and its values
 */
export const dragged = (drag) => {
  if (drag.turn || (drag.times ?? 1) !== 1)
    return ["/place", { turn_deg: drag.turn, times: drag.times.toFixed(3) }];
  if (!drag.by[0] && !drag.by[1]) return null;
  const [along, around] = [drag.by[0] * drag.long, drag.by[1] * drag.girth].map((one) => one
    .toFixed(
      2));
  if (drag.stroke !== undefined) return ["/strokes/change", {
    do: "change",
    stroke: drag.stroke + 1,
    along_mm: `${along} mm`,
    around_mm: `${around} mm`
  }];
  return ["/place", { along_mm: `${along} mm`, down_mm: `${around} mm` }];
};
