// A bait drawn as a lamp and an eye see it: turned, rolled, bent. Nothing is asked of the server for it.

import { bytes } from "./kit/screen.js";

const LAMP = normal([-0.15, 0.62, 0.77]), AMBIENT = 0.32, BRIGHT = 1 / 0.95;
const HALF = normal([LAMP[0], LAMP[1] + 1, LAMP[2]]); // between lamp and eye
const STUFFS = { hard: 176, soft: 198, metal: 148, clear: 222 };
const SIZE = 4096, encoded = new Uint8ClampedArray(SIZE + 1);
for (let i = 0; i <= SIZE; i++) {
  const x = i / SIZE;
  encoded[i] = bytes([x])[0];
}

function normal(a) { const l = Math.hypot(...a) || 1; return a.map((x) => x / l); }

/** A bait that can be turned, rolled and bent without asking the server. */
export class Bait {
  constructor(skin) {
    this.skin = skin;
    // With what is fitted to it the bait is longer than its body, and has another middle.
    const along = skin.head.fitted.fittings.flatMap((one) => one.points.map(([u]) => u)), start = Math.min(0, ...along), end = Math.max(1, ...along);
    this.long = end - start;
    this.middle = (start + end) / 2 - 0.5;
    this.grid();
    const heights = [...skin.head.fitted.fittings.flatMap((one) => one.points.map(([, z]) => z)), ...this.corners.filter((_, at) => at % 3 === 2)];
    this.low = heights.reduce((a, b) => Math.min(a, b));
    this.high = heights.reduce((a, b) => Math.max(a, b));
  }

  // The bait stands in the middle, and higher or lower only as far as a bill or a fin would be cut off.
  middleOf(height, scale, upward) {
    const [low, high] = [this.low * upward, this.high * upward].sort((a, b) => a - b), room = 0.48 * height;
    return height / 2 - Math.max(0, -low * scale - room) + Math.max(0, high * scale - room);
  }

  // Corners of the cells, and where each cell faces, as the bait lies still.
  grid() {
    const { u, v, points, head } = this.skin;
    const [rows, columns] = head.geometry.points, side = rows * columns;
    this.corners = new Float32Array(3 * (u + 1) * (v + 1));
    const read = (plane, x, y) => {
      const i = Math.min(Math.floor(x), rows - 2), j = Math.min(Math.floor(y), columns - 2), fx = x - i, fy = y - j;
      const at = plane * side + i * columns + j;
      return (points[at] * (1 - fy) + points[at + 1] * fy) * (1 - fx) + (points[at + columns] * (1 - fy) + points[at + columns + 1] * fy) * fx;
    };
    for (let i = 0; i <= u; i++) for (let j = 0; j <= v; j++) {
      const around = j / v, folded = Math.min(around, 1 - around), x = (i / u) * (rows - 1), y = folded * 2 * (columns - 1);
      const at = 3 * (i * (v + 1) + j);
      this.corners[at] = i / u - 0.5;
      this.corners[at + 1] = read(0, x, y) * (around > 0.5 ? -1 : 1);
      this.corners[at + 2] = read(1, x, y);
    }
    this.normals = new Float32Array(3 * u * v);
    this.middles = new Float32Array(2 * u * v);
    const [ru, rv] = head.geometry.relief, relief = this.skin.relief;
    const high = (i, j) => {
      const f = Math.min((j + 0.5) / v, 1 - (j + 0.5) / v) * 2;
      return relief[Math.min(Math.floor(((i + 0.5) / u) * ru), ru - 1) * rv + Math.min(Math.floor(f * rv), rv - 1)];
    };
    const c = this.corners;
    for (let i = 0; i < u; i++) for (let j = 0; j < v; j++) {
      const a = 3 * (i * (v + 1) + j), b = a + 3, d = a + 3 * (v + 1), e = d + 3;
      const along = [0, 1, 2].map((k) => (c[d + k] + c[e + k] - c[a + k] - c[b + k]) / 2);
      const round = [0, 1, 2].map((k) => (c[b + k] + c[e + k] - c[a + k] - c[d + k]) / 2);
      let n = normal([along[1] * round[2] - along[2] * round[1], along[2] * round[0] - along[0] * round[2], along[0] * round[1] - along[1] * round[0]]);
      const la = Math.hypot(...along) || 1e-9, lr = Math.hypot(...round) || 1e-9;
      const du = (high(Math.min(i + 1, u - 1), j) - high(Math.max(i - 1, 0), j)) / 2 / la;
      const dv = (high(i, (j + 1) % v) - high(i, (j + v - 1) % v)) / 2 / lr;
      n = normal(n.map((x, k) => x - (du * along[k]) / la - (dv * round[k]) / lr));
      this.normals.set(n, 3 * (i * v + j));
      for (const k of [0, 1]) this.middles[2 * (i * v + j) + k] = (c[a + 1 + k] + c[b + 1 + k] + c[d + 1 + k] + c[e + 1 + k]) / 4;
    }
  }

  // Colours in a light; asked for again only when the light is another.
  lit(light, index, sheen) { this.colours = this.skin.colours(light, index, sheen); }

  // How each row of the bait is turned by a swim: (heading, x, y) at each corner row.
  spine(swim) {
    const { u, head } = this.skin, joints = head.fitted.joints, found = new Float32Array(3 * (u + 1));
    let x = -0.5 - this.middle, y = 0;
    for (let i = 0; i <= u; i++) {
      const at = i / u;
      let heading = 0;
      if (swim) {
        const part = joints.length ? joints.filter((one) => one < at).length / joints.length : 0.35 * at;
        heading = swim.size * Math.sin(swim.phase - 2.4 * part) * (joints.length ? 0.35 + part : 0.6 + part);
      }
      if (i) { x += Math.cos(heading) / u; y += Math.sin(heading) / u; }
      found.set([heading, x, y], 3 * i);
    }
    return found;
  }

  // Into a picture (width, height): RGBA, and which cell is where. Between the middles of the cells light is mixed.
  draw(image, pick, width, height, pose) {
    const { u, v, half, head } = this.skin, turn = turning(pose), spine = this.spine(pose.swim);
    image.data.fill(0);
    pick.fill(-1);
    const scale = pose.scale * width, cx = width / 2, cy = this.middleOf(height, scale, turn[8]);
    this.turn = turn; this.at = { scale, cx, cy, spine };
    const seen = (this.seen ??= new Float32Array(6 * u * v)); // x, y, how it faces the eye, r, g, b
    const table = this.places(), n = this.normals, m = this.middles, colours = this.colours, foil = this.skin.foil, last = head.angles.length - 2;
    const joints = new Set(head.fitted.joints.map((one) => Math.round(one * u)));
    for (let i = 0; i < u; i++) {
      const low = 3 * i, h = spine[low], cos = Math.cos(h), sin = Math.sin(h), gap = joints.has(i);
      const sx = (spine[low + 1] + spine[low + 4]) / 2, sy = (spine[low + 2] + spine[low + 5]) / 2;
      for (let j = 0; j < v; j++) {
        const own = i * v + j, k = 3 * own, to = 6 * own, y = m[2 * own], z = m[2 * own + 1];
        const mx = sx - sin * y, my = sy + cos * y;
        seen[to] = cx + scale * (turn[0] * mx + turn[1] * my + turn[2] * z);
        seen[to + 1] = cy - scale * (turn[6] * mx + turn[7] * my + turn[8] * z);
        const nx = cos * n[k] - sin * n[k + 1], ny = sin * n[k] + cos * n[k + 1], nz = n[k + 2];
        const toEye = turn[3] * nx + turn[4] * ny + turn[5] * nz;
        seen[to + 2] = toEye;
        if (toEye < -0.4) continue;
        const x = turn[0] * nx + turn[1] * ny + turn[2] * nz, up = turn[6] * nx + turn[7] * ny + turn[8] * nz;
        const falls = x * LAMP[0] + toEye * LAMP[1] + up * LAMP[2];
        const stand = i * half + (head.alike && j >= half ? v - 1 - j : j);
        let cosine = 2 * falls * toEye - LAMP[1];
        if (foil[stand]) cosine = this.overLines(x, toEye, up, k, cos, sin);
        const place = table[Math.min(511, Math.max(0, Math.round((cosine + 1) * 255.5)))];
        const first = Math.min(Math.floor(place), last), part = place - first;
        const cell = 3 * stand;
        const one = colours[first], other = colours[first + 1], around = colours[3];
        const direct = gap ? 0 : (BRIGHT * Math.max(falls, 0) * (1 - AMBIENT)) / 0.75, soft = gap ? 0.06 : BRIGHT * AMBIENT;
        for (let c = 0; c < 3; c++) seen[to + 3 + c] = Math.max(0, (one[cell + c] * (1 - part) + other[cell + c] * part) * direct + around[cell + c] * soft);
      }
    }
    for (let i = 0; i + 1 < u; i++) for (let j = 0; j < v; j++) {
      const next = (j + 1) % v, a = i * v + j, b = i * v + next, d = a + v, e = b + v;
      if (seen[6 * a + 2] < -0.4 || seen[6 * e + 2] < -0.4) continue;
      this.patch(a, d, e, width, height, pick, a);
      this.patch(a, e, b, width, height, pick, a);
    }
  }

  // Foil throws light farther across its lines than along them: the cosine of the angle as it then counts.
  overLines(x, y, z, at, cos, sin) {
    const n = this.normals, t = this.turn, [grain, on, off] = this.skin.head.grain;
    const rises = Math.max(1e-6, x * HALF[0] + y * HALF[1] + z * HALF[2]), tilt = [HALF[0] - rises * x, HALF[1] - rises * y, HALF[2] - rises * z];
    // Along the body on the skin, then across it, as the model lies; turned as the bait is.
    let a = normal([1 - n[at] * n[at], -n[at] * n[at + 1], -n[at] * n[at + 2]]);
    const b = [n[at + 1] * a[2] - n[at + 2] * a[1], n[at + 2] * a[0] - n[at] * a[2], n[at] * a[1] - n[at + 1] * a[0]];
    if (grain === "around") a = b; else if (grain === "slant") a = normal(a.map((one, k) => one + b[k]));
    const bx = cos * a[0] - sin * a[1], by = sin * a[0] + cos * a[1], turned = [0, 3, 6].map((row) => t[row] * bx + t[row + 1] * by + t[row + 2] * a[2]);
    const along = tilt[0] * turned[0] + tilt[1] * turned[1] + tilt[2] * turned[2];
    const across = Math.max(0, tilt[0] ** 2 + tilt[1] ** 2 + tilt[2] ** 2 - along ** 2);
    return Math.cos(2 * Math.atan2(Math.sqrt((on * along) ** 2 + off * off * across), rises));
  }

  // A triangle between three middles, where it faces the eye.
  patch(a, b, c, width, height, pick, own) {
    const s = this.seen;
    a *= 6; b *= 6; c *= 6;
    const ax = s[a], ay = s[a + 1], bx = s[b] - ax, by = s[b + 1] - ay, qx = s[c] - ax, qy = s[c + 1] - ay;
    const area = bx * qy - by * qx;
    if (area <= 1e-6) return;
    const left = Math.max(0, Math.ceil(Math.min(ax, ax + bx, ax + qx) - 0.5)), right = Math.min(width - 1, Math.floor(Math.max(ax, ax + bx, ax + qx) - 0.5));
    const top = Math.max(0, Math.ceil(Math.min(ay, ay + by, ay + qy) - 0.5)), bottom = Math.min(height - 1, Math.floor(Math.max(ay, ay + by, ay + qy) - 0.5));
    const words = this.words, slack = -1e-4;
    for (let y = top; y <= bottom; y++) for (let x = left; x <= right; x++) {
      const px = x + 0.5 - ax, py = y + 0.5 - ay, f = (px * qy - py * qx) / area, g = (bx * py - by * px) / area, e = 1 - f - g;
      if (f < slack || g < slack || e < slack) continue;
      const r = e * s[a + 3] + f * s[b + 3] + g * s[c + 3], gr = e * s[a + 4] + f * s[b + 4] + g * s[c + 4], bl = e * s[a + 5] + f * s[b + 5] + g * s[c + 5];
      const scale = SIZE / Math.max(r, gr, bl, 1), at = y * width + x;
      words[at] = (255 << 24) | (encoded[(bl * scale) | 0] << 16) | (encoded[(gr * scale) | 0] << 8) | encoded[(r * scale) | 0];
      pick[at] = own;
    }
  }

  // From the cosine of the aspecular angle to a place between the angles.
  places() {
    if (this.table) return this.table;
    const angles = this.skin.head.angles;
    this.table = Float32Array.from({ length: 512 }, (_, i) => {
      const angle = (Math.acos(i / 255.5 - 1) * 180) / Math.PI;
      if (angle <= angles[0]) return 0;
      for (let k = 1; k < angles.length; k++) if (angle <= angles[k]) return k - 1 + (angle - angles[k - 1]) / (angles[k] - angles[k - 1]);
      return angles.length - 1;
    });
    return this.table;
  }

  // Where a place of the middle plane, or of the skin, is in the picture: [x, y, how much it faces the eye].
  project(u, y, z) {
    const { scale, cx, cy, spine } = this.at, t = this.turn;
    const i = Math.min(Math.max(u, 0), 1) * this.skin.u, low = 3 * Math.min(Math.floor(i), this.skin.u - 1), f = i - low / 3;
    const h = spine[low], beyond = u < 0 ? u : u > 1 ? u - 1 : 0;
    const sx = spine[low + 1] + (spine[low + 4] - spine[low + 1]) * f + beyond * Math.cos(h), sy = spine[low + 2] + (spine[low + 5] - spine[low + 2]) * f + beyond * Math.sin(h);
    const mx = sx - Math.sin(h) * y, my = sy + Math.cos(h) * y;
    return [cx + scale * (t[0] * mx + t[1] * my + t[2] * z), cy - scale * (t[6] * mx + t[7] * my + t[8] * z)];
  }

  corner(u, v) {
    const s = this.skin, i = Math.min(Math.max(Math.round(u * s.u), 0), s.u), j = Math.round(v * s.v);
    const at = 3 * (i * (s.v + 1) + j);
    return this.corners.subarray(at, at + 3);
  }

  faces(u, v) {
    const s = this.skin, i = Math.min(Math.floor(u * s.u), s.u - 1), j = Math.min(Math.floor(v * s.v), s.v - 1), k = 3 * (i * s.v + j), n = this.normals, t = this.turn;
    return t[3] * n[k] + t[4] * n[k + 1] + t[5] * n[k + 2];
  }

  // Bill, tail and fins, behind the body; unpainted they are grey.
  fittings(context, ratio, colourAt) {
    for (const one of this.skin.head.fitted.fittings) {
      const grey = STUFFS[one.stuff] ?? 176;
      context.fillStyle = one.painted ? colourAt(one) : `rgb(${grey} ${grey} ${grey})`;
      context.strokeStyle = "#606060";
      context.lineWidth = 1;
      for (const corners of [one.points.map(([u, z]) => [u, 0, z]), one.plate ?? []]) {
        if (!corners.length) continue;
        context.beginPath();
        for (const corner of corners) context.lineTo(...this.project(...corner).map((x) => x * ratio));
        context.closePath();
        context.fill();
        context.stroke();
      }
    }
  }

  eyes(context, ratio) {
    const eye = this.skin.head.fitted.eye;
    if (!eye) return;
    for (const v of [eye.v, 1 - eye.v]) {
      const facing = this.faces(eye.u, v);
      if (facing <= 0.1) continue;
      const [, y, z] = this.corner(eye.u, v), [x, top] = this.project(eye.u, y, z);
      for (const [reach, grey] of [[1.12, "#505050"], [1, "#d0d0d0"], [0.55, "#161616"]]) {
        context.beginPath();
        context.ellipse(x * ratio, top * ratio, Math.max(0.5, (eye.size / 2) * reach * this.at.scale * ratio), Math.max(0.5, (eye.size / 2) * reach * this.at.scale * ratio * Math.min(1, facing)), 0, 0, 2 * Math.PI);
        context.fillStyle = grey;
        context.fill();
      }
    }
  }
}

// Rows: right, towards the eye, up. Roll about the bait's axis, then yaw, then tilt in the picture.
function turning({ roll, yaw, pitch }) {
  const [r, y, p] = [roll, yaw, pitch].map((one) => (one * Math.PI) / 180);
  const cr = Math.cos(r), sr = Math.sin(r), cy = Math.cos(y), sy = Math.sin(y), cp = Math.cos(p), sp = Math.sin(p);
  // After the roll: y' = cr y + sr z, z' = -sr y + cr z; after the yaw: x'' = cy x + sy y', y'' = -sy x + cy y'.
  const right = [cy, sy * cr, sy * sr], eye = [-sy, cy * cr, cy * sr], up = [0, -sr, cr];
  return [...right.map((one, k) => cp * one + sp * up[k]), ...eye, ...right.map((one, k) => -sp * one + cp * up[k])];
}

