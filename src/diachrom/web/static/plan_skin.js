// A bait's skin as it was sent: every cell in a few components, good for every angle and light.
/** A bait's skin as the server sent it: every cell in a few components. */
export class Skin {
  static async load(address) {
    const answer = await fetch(address);
    if (!answer.ok) throw new Error(await answer.text());
    return new Skin(await answer.arrayBuffer());
  }

  constructor(buffer) {
    const length = new DataView(buffer).getUint32(0, true);
    const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length)));
    this.head = head;
    [this.u, this.half] = head.cells;
    this.v = head.alike ? 2 * this.half : this.half;
    this.count = this.u * this.half;
    let at = 4 + length;
    const take = (Kind, count) => {
      const bytes = count * Kind.BYTES_PER_ELEMENT;
      // where it lies need not be even
      const found = new Kind(buffer.slice(at, at + bytes));
      at += bytes;
      return found;
    };
    const figures = take(Uint8Array, head.basis.length * this.count),
      [first, span] = head.scale;
    const scale = Float32Array.from(take(Uint16Array, this.count), (one) => Math.exp(first + (
      span * one) / 65535));
    // Of each component, how much of it every cell has.
    this.amounts = head.basis.map((_, k) => Float32Array.from(scale, (one, i) => one * (head.low[
      k] + head.step[k] * figures[k * this.count + i])));
    this.shares = head.shining.map(() => take(Uint16Array, this.count));
    this.bare = take(Uint8Array, this.count);
    this.foil = take(Uint8Array, this.count);
    const [points, around] = head.geometry.points;
    this.points = Float32Array.from(take(Int16Array, 2 * points * around), (one) => one * head
      .geometry.unit);
    const [rows, columns, unit] = head.geometry.relief;
    this.relief = Float32Array.from(take(Uint8Array, rows * columns), (one) => one * unit);
  }

  // Linear light of the screen (angle, cell, 3) in a light of the list.
  colours(light, index, sheen) {
    const { angles, bands, basis, shining } = this.head;
    const count = this.count;
    const found = angles.map(() => new Float32Array(3 * count));
    const lit = [0, 1, 2].map((c) => light.factors.reduce((sum, row) => sum + row[c], 0) * sheen);
    angles.forEach((_, a) => {
      const out = found[a];
      for (let i = 0; i < count; i++) {
        const rough = 1 - this.bare[i] / 255;
        out[3 * i] = rough * lit[0] + light.veil[0];
        out[3 * i + 1] = rough * lit[1] + light.veil[1];
        out[3 * i + 2] = rough * lit[2] + light.veil[2];
      }
      basis.forEach((row, k) => {
        let r = 0,
          g = 0,
          b = 0;
        for (let at = 0; at < bands; at++) {
          const factor = light.factors[at],
            value = row[a * bands + at];
          r += value * factor[0];
          g += value * factor[1];
          b += value * factor[2];
        }
        const own = this.amounts[k];
        for (let i = 0, to = 0; i < count; i++, to += 3) {
          const amount = own[i];
          out[to] += amount * r;
          out[to + 1] += amount * g;
          out[to + 2] += amount * b;
        }
      });
    });
    shining.forEach((one, at) => {
      const power = one.lights[index];
      if (!power) return;
      const made = [0, 1, 2].map((c) => one.shape.reduce((sum, value, b) => sum + value *
        light.radiance[b][c], 0) * power / 65535);
      for (const out of found)
        for (let i = 0; i < count; i++)
          for (let c = 0; c < 3; c++) out[3 * i + c] += this.shares[at][i] * made[c];
    });
    return found;
  }
}
