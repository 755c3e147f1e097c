// What a bait hangs and hooks by: eyelets, split rings, treble hooks, all of bent wire. Places go in lengths of the bait.

import { cross, normal } from "./plan_body.js";

const FEW = 8, // sides of a wire
  EYELET = [0.0115, 0.0028],
  RING = [0.013, 0.0022],
  SHANK = 0.085,
  BEND = 0.022,
  HOOK = 0.0021;
const add = (a, b, by = 1) => a.map((x, k) => x + by * b[k]);

// A wire along places, closed or not: points, normals, where on the part, triangles.
const wire = (places, thick, closed) => {
  const points = [],
    normals = [],
    own = [],
    index = [],
    count = places.length;
  places.forEach((place, i) => {
    const before = places[closed ? (i + count - 1) % count : Math.max(i - 1, 0)],
      after = places[closed ? (i + 1) % count : Math.min(i + 1, count - 1)];
    const way = normal(add(after, before, -1)),
      aside = normal(cross(way, Math.abs(way[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0])),
      up = cross(aside, way);
    // a hook's point is sharp
    const wide = closed || i < count - 3 ? thick : (thick * (count - i)) / 4;
    for (let j = 0; j < FEW; j++) {
      const a = (2 * Math.PI * j) / FEW,
        out = aside.map((x, k) => Math.cos(a) * x + Math.sin(a) * up[k]);
      points.push(add(place, out, wide));
      normals.push(out);
      own.push([0, 0]);
      if (!closed && i === count - 1) continue;
      const p = i * FEW + j,
        q = ((i + 1) % count) * FEW + j,
        n = ((j + 1) % FEW) - j;
      index.push(p, q, q + n, p, q + n, p + n);
    }
  });
  return [points, normals, own, index];
};

const circle = (middle, a, b, radius, many = 28) => Array.from({ length: many }, (_, i) => {
  const at = (2 * Math.PI * i) / many;
  return add(add(middle, a, radius * Math.cos(at)), b, radius * Math.sin(at));
});

/**
 * An eyelet in the bait's middle plane.
 * @param {number} u
 * @param {number} z
 */
export const eyelet = (u, z) => wire(circle([u, 0, z], [1, 0, 0], [0, 0, 1], EYELET[0]), EYELET[1],
  true);

/**
 * A split ring and a treble hook, hanging at a place.
 * @param {number} u
 * @param {number} z
 * @param {number[]} way down which it hangs
 */
export const treble = (u, z, way) => {
  const down = normal(way),
    aside = [0, 1, 0],
    out = cross(down, aside);
  const ring = add([u, 0, z], down, EYELET[0] + 0.6 * RING[0]),
    eye = add(ring, down, RING[0]);
  const found = [wire(circle(ring, down, aside, RING[0]), RING[1], true), wire(circle(add(eye,
      down, 0.007),
    down, out, 0.007), HOOK, true)];
  for (const turn of [0, 120, 240]) {
    const a = ((turn + 30) * Math.PI) / 180,
      side = add(out.map((x) => x * Math.cos(a)), aside, Math.sin(a));
    const from = add(eye, down, 0.013),
      places = [0, 0.25, 0.5, 0.75, 1].map((share) => add(from, down, share *
        SHANK));
    for (let k = 1; k <= 10; k++) {
      const b = (Math.PI * k) / 10;
      places.push(add(add(from, down, SHANK + BEND * Math.sin(b)), side, BEND * (1 - Math.cos(
        b))));
    }
    for (const share of [0.3, 0.55, 0.8, 1]) places.push(add(add(from, down, SHANK - share *
        0.04), side, BEND *
      (2 + 0.12 * share)));
    found.push(wire(places, HOOK, false));
  }
  return found;
};
/** How far a treble hook reaches, in lengths of the bait. */
export const TREBLE = EYELET[0] + 2.6 * RING[0] + 0.013 + SHANK + BEND;
