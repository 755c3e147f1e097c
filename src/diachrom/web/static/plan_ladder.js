// What a hand draws, in its true colour while it draws: the server tells the bait under growing films of the paint, and between
// two of them the light is mixed by the root of the film, in its logarithm.

import { Skin } from "./plan_skin.js";

const DARKEST = 1e-4; // of linear light

/** The bait under growing films of one paint. */
export class Ladder {
  static async load(address) {
    const answer = await fetch(address);
    if (!answer.ok) throw new Error(await answer.text());
    return new Ladder(await answer.arrayBuffer());
  }

  constructor(buffer) {
    const view = new DataView(buffer),
      size = view.getUint32(0, true);
    this.head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, size)));
    const [u, v] = this.head.cells;
    let at = 4 + size;
    this.lies = Float32Array.from(new Uint16Array(buffer.slice(at, at + 2 * u * v)), unpacked);
    at += 2 * u * v;
    this.skins = this.head.films.map(() => {
      const long = view.getUint32(at, true),
        skin = new Skin(buffer.slice(at + 4, at + 4 + long));
      at += 4 + long;
      return skin;
    });
    this.roots = this.head.films.map(Math.sqrt);
  }

  /**
   * In a light, over a bait as it is now.
   * @param {Body} body
   * @param {Float32Array[]} base its colours, by angle
   * @param {function(Skin): Float32Array[]} colours of a skin in the light
   */
  lay(body, base, colours) {
    const { skin } = body, [, v] = this.head.cells;
    this.rungs = this.skins.map((one) => colours(one));
    this.base = base;
    // How far apart colours beneath still are under each film: what of finer detail is seen through it.
    this.apart = this.rungs.map(([, , facing]) => [0, 1, 2].map((c) => spread(facing, c)));
    if (this.body?.skin === skin) return;
    // What was drawn lies there from then on.
    const drawn = this.body?.skin.count === skin.count ? this.before.map((one, k) => one + this
      .added[k]) : null;
    this.body = body;
    this.added = new Float32Array(skin.count);
    // The parent of each fine cell among the ladder's, and what of the paint lies there.
    this.parents = new Uint32Array(skin.count);
    this.before = new Float32Array(skin.count);
    const half = this.skins[0].half;
    for (let i = 0; i < skin.u; i++)
      for (let j = 0; j < skin.half; j++) {
        const row = Math.floor(i * this.skins[0].u / skin.u),
          column = Math.floor(j * v / skin.v),
          folded = half < v ? Math.min(column, v - 1 - column) : column;
        this.parents[i * skin.half + j] = row * half + folded;
        this.before[i * skin.half + j] = this.lies[row * v + column];
      }
    if (drawn) this.before = drawn;
    this.girths = Float32Array.from({ length: skin.u }, (_, i) => body.girth((i + 0.5) / skin.u));
  }

  // What was drawn and not kept.
  forget() { this.added?.fill(0); }

  /**
   * Lay what a stretch of a stroke leaves.
   * @param {number[]} a [u, v, seconds]
   * @param {number[]} b
   * @param {number} wide mm of a line that is not sprayed, 0 for the airbrush
   * @returns {Set<number>} cells that it met
   */
  draw(a, b, wide = 0) {
    const { skin } = this.body, long = skin.head.geometry.length_mm, met = new Set();
    const radius = (wide || this.head.disc) / 2;
    let turn = b[1] - a[1];
    turn -= Math.round(turn);
    const mid = Math.min(Math.max(Math.floor(a[0] * skin.u), 0), skin.u - 1);
    const way = Math.hypot((b[0] - a[0]) * long, turn * this.girths[mid]),
      count = Math.max(1, Math.ceil(3 * way / radius));
    const each = this.head.flow * (b[2] - a[2]) / count;
    for (let k = 0; k < count; k++) {
      const part = (k + 0.5) / count,
        u = a[0] + (b[0] - a[0]) * part,
        v = a[1] + turn * part;
      for (const place of this.sides(v)) this.spot(u, place, radius, wide ? 0 : each, met);
    }
    return met;
  }

  /**
   * Lay what a mark leaves.
   * @param {number} u
   * @param {number} v
   * @param {number} size mm
   */
  stamp(u, v, size) {
    const met = new Set();
    for (const place of this.sides(v)) this.spot(u, place, size / 2, 0, met);
    return met;
  }

  // On one side alone, where both are sent as one, its mirror image is drawn with it.
  sides(v) {
    const { skin } = this.body;
    return this.head.both && skin.half === skin.v ? [v, 1 - v] : [v];
  }

  // A disc of what is sprayed; without any, a full coat as far as it reaches.
  spot(u, v, radius, each, met) {
    const { skin } = this.body, long = skin.head.geometry.length_mm, reach = radius / long;
    const [low, high] = [Math.max(Math.floor((u - reach) * skin.u), 0), Math.min(Math.ceil((u +
      reach) * skin.u), skin.u - 1)];
    for (let i = low; i <= high; i++) {
      const x = ((i + 0.5) / skin.u - u) * long,
        girth = this.girths[i];
      if (Math.abs(x) > radius) continue;
      const wide = Math.min(Math.ceil(radius / girth * skin.v), skin.v / 2),
        middle = Math.floor(v * skin.v);
      for (let j = middle - wide; j <= middle + wide; j++) {
        const y = ((j + 0.5) / skin.v - v) * girth,
          near = 1 - (x * x + y * y) / radius ** 2;
        if (near <= 0) continue;
        const around = ((j % skin.v) + skin.v) % skin.v,
          column = skin.half < skin.v ? Math.min(around, skin.v - 1 - around) : around,
          cell = i * skin.half + column;
        if (each) this.added[cell] += each * near * near;
        else this.added[cell] = Math.max(this.added[cell], this.head.coat);
        met.add(cell);
      }
    }
  }

  // Linear light of a cell at an angle, with what was drawn on it.
  seen(cell, angle, out) {
    const parent = 3 * this.parents[cell],
      before = this.before[cell],
      now = this.between(before + this.added[cell]),
      then = this.between(before);
    for (let c = 0; c < 3; c++) {
      const made = this.mixed(now, angle, parent + c),
        was = this.mixed(then, angle, parent + c);
      const left = Math.min(1, this.through(now, c) / Math.max(this.through(then, c), DARKEST));
      out[c] = made + (this.base[angle][3 * cell + c] - was) * left;
    }
  }

  through([rung, part], c) {
    return this.apart[rung][c] * (1 - part) + this.apart[rung + 1][c] * part;
  }

  between(film) {
    const root = Math.sqrt(film),
      last = this.roots.length - 1;
    let rung = 0;
    while (rung < last - 1 && this.roots[rung + 1] < root) rung++;
    return [rung, Math.min(1, (root - this.roots[rung]) / (this.roots[rung + 1] - this.roots[
      rung]))];
  }

  mixed([rung, part], angle, at) {
    const a = Math.max(this.rungs[rung][angle][at], DARKEST),
      b = Math.max(this.rungs[rung + 1][angle][at], DARKEST);
    return Math.exp(Math.log(a) * (1 - part) + Math.log(b) * part);
  }
}

const spread = (colours, c) => {
  let sum = 0,
    squares = 0;
  const count = colours.length / 3;
  for (let at = c; at < colours.length; at += 3) {
    sum += colours[at];
    squares += colours[at] ** 2;
  }
  return Math.sqrt(Math.max(squares / count - (sum / count) ** 2, 0));
};

// A half float of 16 bits.
const unpacked = (bits) => {
  const exponent = (bits >> 10) & 31,
    fraction = bits & 1023;
  return exponent ? 2 ** (exponent - 15) * (1 + fraction / 1024) : 2 ** -14 * fraction / 1024;
};
