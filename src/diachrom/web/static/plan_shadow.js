// The soft shadow of a bait on the neutral ground behind it, in a grid so coarse that it costs no frame.

import * as three from "./vendor/three.min.js";

const COLUMNS = 96,
  ROWS = 64,
  RIGHT = 0.01, // lengths of the bait by which it falls aside and down, and how soft it is
  DOWN = 0.03,
  SOFT = 0.024,
  DARK = 0.34;

const VERTEX = `
in vec2 place;
out vec2 vPlace;
void main() { vPlace = place; gl_Position = vec4(2.0 * place - 1.0, 0.999, 1.0); }`;

const FRAGMENT = `
precision highp float;
uniform sampler2D shade;
in vec2 vPlace;
out vec4 colour;
void main() { colour = vec4(0.0, 0.0, 0.0, texture(shade, vPlace).r); }`;

const eased = (x) => x <= 0 ? 0 : x >= 1 ? 1 : x * x * (3 - 2 * x);

/** Lies behind a bait. */
export class Shadow {
  constructor() {
    this.shade = new Uint8Array(COLUMNS * ROWS);
    this.texture = new three.DataTexture(this.shade, COLUMNS, ROWS, three.RedFormat, three
      .UnsignedByteType);
    this.texture.minFilter = this.texture.magFilter = three.LinearFilter;
    this.texture.unpackAlignment = 1;
    const square = new three.BufferGeometry();
    const corners = new Float32Array([0, 0, 1, 0, 1, 1, 0, 1]);
    square.setAttribute("place", new three.BufferAttribute(corners, 2));
    square.setIndex([0, 1, 2, 0, 2, 3]);
    this.mesh = new three.Mesh(square, new three.ShaderMaterial({
      glslVersion: three.GLSL3,
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      // The first thing on an empty picture: it is written, not mixed in.
      transparent: false,
      depthTest: false,
      depthWrite: false,
      uniforms: { shade: { value: this.texture } }
    }));
    this.mesh.frustumCulled = false;
    this.mesh.renderOrder = -1;
  }

  /**
   * Fall as the body stands.
   * @param {Body} body
   */
  fall(body) {
    const { scale, width, height } = body.at;
    // Where a place is seen, in columns and rows from the foot.
    const seen = (u, y, z) => {
      const [x, top] = body.project(u, y, z);
      return [(x + RIGHT * scale) / width * COLUMNS, (1 - (top + DOWN * scale) / height) *
        ROWS
      ];
    };
    const lines = [];
    for (let j = 0; j < body.v; j += 4) {
      const line = [];
      for (let i = 0; i <= body.u; i += 4) {
        const at = 3 * (i * (body.v + 1) + j);
        line.push(seen(i / body.u, body.corners[at + 1], body.corners[at + 2]));
      }
      lines.push(line);
    }
    const parts = [lines];
    for (const one of body.skin.head.fitted.fittings) {
      const corners = one.plate?.length ? one.plate : one.points.map(([u, z]) => [u, 0, z]);
      const outline = corners.map((corner) => seen(...corner));
      parts.push([
        [...outline, outline[0]]
      ]);
    }
    const light = new Float32Array(COLUMNS * ROWS).fill(1),
      soft = SOFT * scale / height * ROWS;
    for (const part of parts) covered(stretches(part), soft, light);
    blurred(light, SOFT * scale / width * COLUMNS, this.shade);
    this.texture.needsUpdate = true;
  }
}

// From where to where a part reaches in each column, by the lines that cross it.
const stretches = (lines) => {
  const low = new Float32Array(COLUMNS).fill(Infinity),
    high = new Float32Array(COLUMNS).fill(-Infinity);
  for (const line of lines)
    for (let k = 1; k < line.length; k++) {
      const [a, b] = line[k - 1][0] < line[k][0] ? [line[k - 1], line[k]] : [line[k], line[k -
        1]];
      const last = Math.min(Math.floor(b[0]), COLUMNS - 1);
      for (let column = Math.max(Math.floor(a[0]), 0); column <= last; column++) {
        const middle = Math.min(Math.max(column + 0.5, a[0]), b[0]);
        const up = a[1] + (b[1] - a[1]) * ((middle - a[0]) / Math.max(b[0] - a[0], 1e-6));
        low[column] = Math.min(low[column], up);
        high[column] = Math.max(high[column], up);
      }
    }
  return { low, high };
};

// Of the light of each cell it leaves what it does not cover: softened, a stretch is a difference of two steps.
const covered = ({ low, high }, soft, light) => {
  for (let column = 0; column < COLUMNS; column++) {
    if (low[column] > high[column]) continue;
    const first = Math.max(Math.floor(low[column] - soft), 0),
      last = Math.min(Math.ceil(high[column] + soft), ROWS - 1);
    for (let row = first; row <= last; row++) {
      const [a, b] = [low[column], high[column]].map((end) => eased((row + 0.5 - end + soft) / (
        2 *
        soft)));
      light[row * COLUMNS + column] *= 1 - (a - b);
    }
  }
};

// Softened along its rows too.
const blurred = (light, soft, shade) => {
  const reach = Math.max(1, Math.round(soft)),
    sum = (reach + 1) ** 2;
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) {
      let lit = 0;
      for (let k = -reach; k <= reach; k++) {
        const at = column + k;
        lit += (reach + 1 - Math.abs(k)) * (at < 0 || at >= COLUMNS ? 1 : light[row * COLUMNS +
          at]);
      }
      shade[row * COLUMNS + column] = 255 * DARK * (1 - lit / sum);
    }
};
