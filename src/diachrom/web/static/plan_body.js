// A bait's body as it lies in the hand: its form, how it is turned, rolled and bent, and which place of it is where in
// the picture. Whoever draws it asks here.

const ACROSS = 120,
  AROUND = 56; // patches of the form

/**
 * A vector of length 1.
 * @param {number[]} a
 */
export const normal = (a) => {
  const long = Math.hypot(...a) || 1;
  return a.map((x) => x / long);
};
/**
 * What stands on both vectors.
 * @param {number[]} a
 * @param {number[]} b
 */
export const cross = (a, b) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] -
  a[1] *
  b[0]
];

/** The form of a bait, and where each of its places is seen. */
export class Body {
  constructor(skin) {
    this.skin = skin;
    this.u = ACROSS;
    this.v = AROUND;
    const { fittings } = skin.head.fitted, along = fittings.flatMap((one) => one.points.map(([
      u
    ]) => u));
    this.ends = [Math.min(0, ...along), Math.max(1, ...along)];
    this.reach(...this.ends);
    this.form();
    const heights = fittings.flatMap((one) => one.points.map(([, z]) => z));
    for (let at = 2; at < this.corners.length; at += 3) heights.push(this.corners[at]);
    this.lowest = this.low = heights.reduce((a, b) => Math.min(a, b));
    this.high = heights.reduce((a, b) => Math.max(a, b));
  }

  // With what is fitted to it the bait is longer than its body, and has another middle.
  reach(start, end) {
    this.long = end - start;
    this.middle = (start + end) / 2 - 0.5;
  }

  // Room for what hangs below it and behind.
  hang(by) {
    this.low = Math.min(this.lowest, this.place(0.42, 0.5)[2] - by);
    this.reach(this.ends[0], Math.max(this.ends[1], 1 + 0.7 * by));
  }

  // Corners (u, v, 3) in lengths of the bait, and how the skin runs there: along, around, outward.
  form() {
    const { points, head } = this.skin, [rows, columns] = head.geometry.points, side = rows *
      columns;
    const count = (ACROSS + 1) * (AROUND + 1);
    const read = (plane, x, y) => {
      const i = Math.min(Math.floor(x), rows - 2),
        j = Math.min(Math.floor(y), columns - 2),
        fx = x - i,
        fy = y - j,
        at = plane * side + i * columns + j;
      return (points[at] * (1 - fy) + points[at + 1] * fy) * (1 - fx) +
        (points[at + columns] * (1 - fy) + points[at + columns + 1] * fy) * fx;
    };
    const place = (u, v) => {
      const around = ((v % 1) + 1) % 1,
        folded = Math.min(around, 1 - around),
        x = Math.min(Math.max(u, 0), 1) * (rows - 1),
        y = folded * 2 * (columns - 1);
      return [u - 0.5, read(0, x, y) * (around > 0.5 ? -1 : 1), read(1, x, y)];
    };
    this.place = place;
    [this.corners, this.normals, this.alongs, this.arounds] = [0, 0, 0, 0].map(() =>
      new Float32Array(3 * count));
    this.places = new Float32Array(2 * count);
    for (let i = 0; i <= ACROSS; i++)
      for (let j = 0; j <= AROUND; j++) {
        const u = i / ACROSS,
          v = j / AROUND,
          at = i * (AROUND + 1) + j,
          step = 0.004;
        const [u0, u1] = [Math.max(0, u - step), Math.min(1, u + step)];
        const along = place(u1, v).map((x, k) => (x - place(u0, v)[k]) / (u1 - u0));
        let around = place(u, v + step).map((x, k) => (x - place(u, v - step)[k]) / (2 * step));
        // at its very tip a bait has no girth
        if (Math.hypot(...around) < 1e-5) around = [0, Math.cos(2 * Math.PI * v), -Math.sin(2 *
          Math.PI * v)].map((x) => 1e-5 * x);
        this.corners.set(place(u, v), 3 * at);
        this.alongs.set(along, 3 * at);
        this.arounds.set(around, 3 * at);
        this.normals.set(normal(cross(around, along).map((x) => -x)), 3 * at);
        this.places.set([u, v], 2 * at);
      }
    // Outward is away from the middle.
    const mid = 3 * ((ACROSS >> 1) * (AROUND + 1) + (AROUND >> 2));
    if (this.normals[mid + 1] * this.corners[mid + 1] < 0)
      for (let at = 0; at < this.normals.length; at++) this.normals[at] *= -1;
  }

  // How each stretch of the bait is turned by a swim: (heading, x, y) at its ends.
  bend(swim) {
    const { joints } = this.skin.head.fitted, count = 48, found = new Float32Array(3 * (count +
      1));
    let x = -0.5 - this.middle,
      y = 0;
    for (let i = 0; i <= count; i++) {
      const at = i / count;
      let heading = 0;
      if (swim) {
        const part = joints.length ? joints.filter((one) => one < at).length / joints.length :
          0.35 * at;
        heading = swim.size * Math.sin(swim.phase - 2.4 * part) * (joints.length ? 0.35 + part :
          0.6 + part);
      }
      if (i) {
        x += Math.cos(heading) / count;
        y += Math.sin(heading) / count;
      }
      found.set([heading, x, y], 3 * i);
    }
    return found;
  }

  /**
   * Take a pose in a picture.
   * @param {{roll: number, yaw: number, pitch: number, swim: object|null, scale: number, zoom: number, shift: number[]}} pose
   *   scale as it fits, zoom on top of that, shift in px
   * @param {number} width px
   * @param {number} height px
   * @param {number} lower px by which it lies below the middle
   */
  stand(pose, width, height, lower = 0) {
    const turn = turning(pose),
      scale = pose.scale * width,
      room = 0.48 * height;
    const [low, high] = [this.low * turn[8], this.high * turn[8]].sort((a, b) => a - b);
    // In the middle, and higher or lower only as far as a bill or a fin would be cut off.
    const cy = height / 2 - Math.max(0, -low * scale - room) + Math.max(0, high * scale - room);
    this.turn = turn;
    this.at = {
      scale: scale * pose.zoom,
      cx: width / 2 + pose.shift[0],
      cy: cy + pose.shift[1] + lower,
      width,
      height,
      spine: this.bend(pose.swim)
    };
  }

  // Where a place of the middle plane, or of the skin, is in the picture: [x, y, how near].
  project(u, y, z) {
    const { scale, cx, cy, spine } = this.at, t = this.turn, count = spine.length / 3 - 1;
    const i = Math.min(Math.max(u, 0), 1) * count,
      low = 3 * Math.min(Math.floor(i), count - 1),
      f = i - low / 3,
      h = spine[low],
      beyond = u < 0 ? u : u > 1 ? u - 1 : 0;
    const sx = spine[low + 1] + (spine[low + 4] - spine[low + 1]) * f + beyond * Math.cos(h),
      sy = spine[low + 2] + (spine[low + 5] - spine[low + 2]) * f + beyond * Math.sin(h);
    const mx = sx - Math.sin(h) * y,
      my = sy + Math.cos(h) * y;
    return [
      cx + scale * (t[0] * mx + t[1] * my + t[2] * z),
      cy - scale * (t[6] * mx + t[7] * my + t[8] * z),
      t[3] * mx + t[4] * my + t[5] * z
    ];
  }

  corner(u, v) { return this.place(u, v); }

  // mm around it.
  girth(u) {
    const row = 3 * Math.round(Math.min(Math.max(u, 0), 1) * ACROSS) * (AROUND + 1);
    let around = 0;
    for (let at = row; at < row + 3 * AROUND; at += 3)
      around += Math.hypot(this.corners[at + 4] - this.corners[at + 1], this.corners[at + 5] -
        this
        .corners[at + 2]);
    return Math.max(around * this.skin.head.geometry.length_mm, 0.1);
  }

  faces(u, v) {
    const i = Math.min(Math.round(u * ACROSS), ACROSS),
      j = Math.min(Math.round(v * AROUND), AROUND),
      k = 3 * (i * (AROUND + 1) + j),
      n = this.normals,
      t = this.turn;
    return t[3] * n[k] + t[4] * n[k + 1] + t[5] * n[k + 2];
  }

  /**
   * Which place of the skin is seen at a point of the picture.
   * @param {number} x px
   * @param {number} y px
   * @returns {{u: number, v: number}|null}
   */
  cellAt(x, y) {
    let found = null,
      near = -Infinity;
    const row = AROUND + 1;
    // Where its corners are seen, as long as it stands so.
    if (this.seen?.at !== this.at) {
      const corners = new Float32Array(3 * (ACROSS + 1) * row);
      for (let at = 0; at < corners.length; at += 3)
        corners.set(this.project(this.places[(2 * at) / 3], this.corners[at + 1], this.corners[
          at +
          2]), at);
      this.seen = { at: this.at, corners };
    }
    const seen = this.seen.corners;
    for (let i = 0; i < ACROSS; i++)
      for (let j = 0; j < AROUND; j++) {
        const a = i * row + j;
        for (const three of [
            [a, a + row, a + row + 1],
            [a, a + row + 1, a + 1]
          ]) {
          const [p, q, r] = three.map((one) => 3 * one);
          const bx = seen[q] - seen[p],
            by = seen[q + 1] - seen[p + 1],
            cx = seen[r] - seen[p],
            cy = seen[r + 1] - seen[p + 1];
          const area = bx * cy - by * cx;
          if (Math.abs(area) < 1e-9) continue;
          const dx = x - seen[p],
            dy = y - seen[p + 1],
            f = (dx * cy - dy * cx) / area,
            g = (bx * dy - by * dx) / area;
          if (f < 0 || g < 0 || f + g > 1) continue;
          const depth = seen[p + 2] * (1 - f - g) + seen[q + 2] * f + seen[r + 2] * g;
          if (depth > near) {
            near = depth;
            const [pu, qu, ru] = three.map((one) => this.places[2 * one]),
              [pv, qv, rv] = three.map((one) => this.places[2 * one + 1]);
            found = {
              u: pu + f * (qu - pu) + g * (ru - pu),
              v: pv + f * (qv - pv) + g * (rv - pv)
            };
          }
        }
      }
    return found;
  }
}

// Rows: right, towards the eye, up. Roll about the bait's axis, then yaw, then tilt in the picture.
const turning = ({ roll, yaw, pitch }) => {
  const [r, y, p] = [roll, yaw, pitch].map((one) => (one * Math.PI) / 180);
  const cr = Math.cos(r),
    sr = Math.sin(r),
    cy = Math.cos(y),
    sy = Math.sin(y),
    cp = Math.cos(p),
    sp = Math.sin(p);
  // After the roll: y' = cr y + sr z, z' = -sr y + cr z; after the yaw: x'' = cy x + sy y', y'' = -sy x + cy y'.
  const right = [cy, sy * cr, sy * sr],
    eye = [-sy, cy * cr, cy * sr],
    up = [0, -sr, cr];
  return [...right.map((one, k) => cp * one + sp * up[k]), ...eye, ...right.map((one, k) => -sp *
    one + cp * up[k])];
};
