// The bait drawn by the graphics card, or by what stands in for one: smaller while it moves, whole and smooth when it rests.

import * as three from "./vendor/three.min.js";
import { cross, normal } from "./plan_body.js";
import { Shadow } from "./plan_shadow.js";
import { eyelet, treble } from "./plan_wire.js";
import { BODY_FRAGMENT, BODY_VERTEX, PART_FRAGMENT, PART_VERTEX } from "./plan_shaders.js";

const GREYS = {
  hard: [0.55, 0.55, 0.55],
  soft: [0.62, 0.62, 0.62],
  metal: [0.5, 0.5, 0.5],
  clear: [
    0.6, 0.6, 0.6
  ]
};
const STUFFS = { hard: 0, soft: 1, metal: 2, clear: 3 };
const MOVING = 0.65,
  RESTING = 1.6; // pixels drawn for one of the picture
const MATTE = 0.04, // share that a matte surface mirrors any way
  SATIN = 0.02;
const WET = 0.08; // of the coat's mirror, under water
const DOME = 0.42; // height of an eye by its radius
const THICK = 0.006; // of a plate, by the length

const attribute = (values, size) => new three.BufferAttribute(values, size);
const geometry = (parts, index) => {
  const made = new three.BufferGeometry();
  for (const [key, values, size] of parts) made.setAttribute(key, attribute(values, size));
  if (index) made.setIndex(index);
  return made;
};

/** Draws baits; one a page. */
export class Stage {
  // Whether this browser can.
  static able() {
    const tried = document.createElement("canvas").getContext("webgl2");
    tried?.getExtension("WEBGL_lose_context")?.loseContext();
    return Boolean(tried);
  }

  constructor(before) {
    this.canvas = document.createElement("canvas");
    this.canvas.className = "stage-light";
    this.canvas.setAttribute("aria-hidden", "true");
    this.renderer = new three.WebGLRenderer({
      canvas: this.canvas,
      alpha: true,
      antialias: false,
      premultipliedAlpha: true
    });
    this.renderer.outputColorSpace = three
      .LinearSRGBColorSpace; // encoded by the shaders themselves
    this.renderer.setClearColor(0, 0);
    this.camera = new three.Camera();
    this.lost = false;
    before.before(this.canvas);
    this.canvas.addEventListener("webglcontextlost", (event) => {
      event.preventDefault();
      this.lost = true;
      this.onlost?.();
    });
    this.canvas.addEventListener("webglcontextrestored", () => {
      this.lost = false;
      this.onback?.();
    });
  }

  /**
   * Put a bait on it.
   * @param {Body} body
   */
  put(body) {
    this.clear();
    this.body = body;
    const { head } = body.skin, { shade } = head;
    this.scene = new three.Scene();
    this.common = {
      turn: { value: new three.Matrix3() },
      spine: { value: Array.from({ length: 49 }, () => new three.Vector3()) },
      frame: { value: new three.Vector4() },
      lamp: { value: new three.Vector3(shade.lamp[0], shade.lamp[2], shade.lamp[1]) },
      shade: {
        value: new three.Vector4(shade.direct, shade.around, shade.above, shade
          .shoulder)
      },
      soft: { value: shade.soft },
      gloss: { value: 1 },
      blur: { value: 0 },
      resting: { value: 0 },
      tone: { value: new three.Vector3(1, 1, 1) },
      veil: { value: new three.Vector3() }
    };
    this.shadow = new Shadow();
    this.scene.add(this.shadow.mesh, this.skinMesh());
    for (const one of head.fitted.fittings) this.scene.add(...this.plates(one));
    for (const one of this.eyes()) this.scene.add(one);
    for (const [u, z] of head.fitted.eyelets) this.scene.add(this.part(...eyelet(u,
      z), { stuff: { value: 2 } }));
    this.hooks = this.hung();
    if (this.hooks.length) this.scene.add(...this.hooks);
    this.hook(false);
  }

  clear() {
    this.scene?.traverse((one) => {
      one.geometry?.dispose();
      one.material?.dispose();
    });
    for (const one of [...(this.textures ?? []), this.shadow?.texture]) one?.dispose();
    this.textures = [];
  }

  texture(made) {
    made.minFilter = made.magFilter = three.LinearFilter;
    made.wrapS = made.wrapT = three.ClampToEdgeWrapping;
    made.needsUpdate = true;
    this.textures.push(made);
    return made;
  }

  skinMesh() {
    const { body } = this, { skin } = body, { head } = skin, row = body.v + 1, index = [];
    for (let i = 0; i < body.u; i++)
      for (let j = 0; j < body.v; j++) {
        const a = i * row + j;
        index.push(a, a + row + 1, a + row, a, a + 1, a + row + 1); // outward
      }
    const [rows, columns] = head.geometry.relief;
    const relief = this.texture(new three.DataTexture(Uint16Array.from(skin.relief, three
      .DataUtils.toHalfFloat), columns, rows, three.RedFormat, three.HalfFloatType));
    const kinds = this.texture(new three.DataTexture(skin.foil, skin.half, skin.u, three
      .RedFormat, three.UnsignedByteType));
    kinds.minFilter = kinds.magFilter = three.NearestFilter;
    kinds.unpackAlignment = 1;
    this.halves = new Uint16Array(4 * skin.count * head.angles.length);
    const layers = this.texture(new three.DataArrayTexture(this.halves, skin.half, skin.u, head
      .angles.length));
    layers.format = three.RGBAFormat;
    layers.type = three.HalfFloatType;
    this.layers = layers;
    const joints = [...head.fitted.joints, 0, 0, 0, 0, 0, 0].slice(0, 6);
    const material = new three.ShaderMaterial({
      glslVersion: three.GLSL3,
      vertexShader: BODY_VERTEX,
      fragmentShader: BODY_FRAGMENT,
      side: three.FrontSide,
      uniforms: {
        ...this.common,
        colours: { value: layers },
        relief: { value: relief },
        kinds: { value: kinds },
        angles: { value: head.angles },
        grain: {
          value: new three.Vector3({ around: 1, slant: 2 } [head.grain[0]] ?? 0, head
            .grain[1], head.grain[2])
        },
        cells: { value: new three.Vector2(rows, 2 * columns) },
        alike: { value: head.alike ? 1 : 0 },
        length_mm: { value: head.geometry.length_mm },
        turned: { value: head.shade.turned },
        joints: { value: joints }
      }
    });
    const mesh = new three.Mesh(geometry([
      ["position", body.corners, 3],
      ["normal", body.normals, 3],
      ["along", body.alongs, 3],
      ["around", body.arounds, 3],
      ["uv", body.places, 2]
    ], index), material);
    mesh.frustumCulled = false;
    return mesh;
  }

  // A mesh of points (u, y, z) with normals, and where each lies on the part.
  part(points, normals, own, index, uniforms, clear = false) {
    const material = new three.ShaderMaterial({
      glslVersion: three.GLSL3,
      vertexShader: PART_VERTEX,
      fragmentShader: PART_FRAGMENT,
      side: three.DoubleSide,
      transparent: clear,
      premultipliedAlpha: true,
      depthWrite: !clear,
      uniforms: {
        ...this.common,
        paint: { value: new three.Vector3(0.5, 0.5, 0.5) },
        stuff: { value: 0 },
        iris: { value: new three.Vector3() },
        slit: { value: 0 },
        sprayed: { value: 0 },
        ...uniforms
      }
    });
    const mesh = new three.Mesh(geometry([
      ["position", new Float32Array(points.flat()), 3],
      ["normal", new Float32Array(normals.flat()), 3],
      ["own", new Float32Array(own.flat()), 2]
    ], index), material);
    mesh.frustumCulled = false;
    return mesh;
  }

  // A bill lies across the bait; fins and tails stand in its middle plane. Both have a thickness and an edge.
  plates(one) {
    const corners = one.plate?.length ? one.plate : one.points.map(([u, z]) => [u, 0, z]);
    if (corners.length < 3) return [];
    const [a, b, c] = [corners[0], corners[1], corners[2]].map((p) => [...p]);
    const way = (p, q) => q.map((x, k) => x - p[k]);
    const ab = way(a, b),
      ac = way(a, c);
    let out = normal(cross(ab, ac));
    if (!out.some(Boolean)) out = [0, 1, 0];
    const along = normal(way(a, corners[Math.floor(corners.length / 2)])),
      over = cross(out, along);
    const flat = corners.map((p) => way(a, p)).map((p) => [p.reduce((s, x, k) => s + x * along[k],
      0), p.reduce((s, x, k) => s + x * over[k], 0)]);
    const round = smoothed(flat, one.plate?.length ? 3 : 2);
    const thick = one.stuff === "soft" ? 1.6 * THICK : THICK,
      long = Math.max(...round.map(([x]) => x)) || 1;
    const at = ([x, y], side) => a.map((one_, k) => one_ + x * along[k] + y * over[k] + side * (
      thick / 2) * out[k]);
    const points = [],
      normals = [],
      own = [],
      index = [];
    const triangles = three.ShapeUtils.triangulateShape(round.map(([x, y]) => new three.Vector2(x,
      y)), []);
    for (const side of [1, -1]) {
      const first = points.length;
      for (const p of round) {
        points.push(at(p, side));
        normals.push(out.map((x) => side * x));
        own.push([p[0] / long, Math.atan2(p[1], Math.max(p[0], 1e-4))]);
      }
      for (const t of triangles) index.push(...t.map((k) => first + k));
    }
    for (let k = 0; k < round.length; k++) {
      const p = round[k],
        q = round[(k + 1) % round.length],
        first = points.length;
      const edge = normal(along.map((x, m) => x * (q[1] - p[1]) - over[m] * (q[0] - p[0])));
      for (const [end, side] of [
          [p, 1],
          [q, 1],
          [q, -1],
          [p, -1]
        ]) {
        points.push(at(end, side));
        normals.push(edge);
        own.push([end[0] / long, 0]);
      }
      index.push(first, first + 1, first + 2, first, first + 2, first + 3);
    }
    const stuff = one.painted ? Math.min(STUFFS[one.stuff] ?? 0, 1) : STUFFS[one.stuff] ?? 0;
    const mesh = this.part(points, normals, own, index, {
      stuff: { value: stuff },
      sprayed: { value: one.painted ? 1 : 0 },
      paint: { value: new three.Vector3(...(GREYS[one.stuff] ?? GREYS.hard)) }
    }, stuff === 3);
    mesh.userData.painted = one.painted ? one : null;
    mesh.renderOrder = stuff === 3 ? 2 : 1;
    return [mesh];
  }

  eyes() {
    const { body } = this, eye = body.skin.head.fitted.eye, found = [];
    if (!eye) return found;
    for (const v of [eye.v, 1 - eye.v]) {
      const middle = body.place(eye.u, v),
        i = Math.round(eye.u * body.u),
        j = Math.round(v * body.v),
        k = 3 * (i * (body.v + 1) + j);
      const out = normal([...body.normals.subarray(k, k + 3)]);
      const side = normal([1 - out[0] * out[0], -out[0] * out[1], -out[0] * out[2]]);
      const up = cross(out, side);
      const radius = eye.size / 2,
        rings = 10,
        spokes = 32,
        points = [],
        normals = [],
        own = [],
        index = [];
      for (let r = 0; r <= rings; r++)
        for (let s = 0; s < spokes; s++) {
          const share = r / rings,
            a = (2 * Math.PI * s) / spokes,
            x = share * Math.cos(a),
            y = share * Math.sin(a),
            high = DOME * (1 - share * share);
          const lean = 2 * DOME * share;
          points.push(out.map((o, m) => (m ? middle[m] : eye.u) + radius * (x * side[m] + y * up[
            m] + (high - 0.06) * o)));
          normals.push(normal(out.map((o, m) => o + lean * (Math.cos(a) * side[m] + Math.sin(a) *
            up[m]))));
          own.push([x, y]);
          if (r) {
            const p = (r - 1) * spokes + s,
              q = (r - 1) * spokes + ((s + 1) % spokes);
            index.push(p, p + spokes, q + spokes, p, q + spokes, q);
          }
        }
      found.push(this.part(points, normals, own, index, {
        stuff: { value: 4 },
        iris: { value: new three.Vector3(...eye.iris) },
        slit: { value: eye.slit ? 1 : 0 }
      }));
    }
    return found;
  }

  // Rings and hooks, where the bait has eyelets: under its belly and at its tail.
  hung() {
    const { body } = this, { eyelets } = body.skin.head.fitted;
    if (!eyelets.length) return [];
    const belly = body.place(0.42, 0.5)[2],
      tail = eyelets.filter(([u]) => u > 0.5);
    const found = [eyelet(0.42, belly), ...treble(0.42, belly, [0.12, 0, -1])];
    for (const [u, z] of tail) found.push(...treble(u, z, [0.55, 0, -1]));
    return found.map((one) => this.part(...one, { stuff: { value: 2 } }));
  }

  /**
   * Show the hooks, or not.
   * @param {boolean} on
   */
  hook(on) {
    for (const one of this.hooks) one.visible = on;
  }

  /**
   * Colours in a light.
   * @param {Float32Array[]} colours linear light of every cell, by angle
   * @param {number} sheen share that the surface mirrors any way
   * @param {{tone: number[], veil: number[], wet: boolean}} light white in it, what the water adds, and whether it is water
   */
  lit(colours, sheen, { tone, veil, wet }) {
    const { count } = this.body.skin, half = three.DataUtils.toHalfFloat, one = half(1);
    colours.forEach((own, layer) => {
      for (let i = 0, to = 4 * count * layer; i < count; i++, to += 4) {
        for (let c = 0; c < 3; c++) this.halves[to + c] = half(Math.min(own[3 * i + c], 6e4));
        this.halves[to + 3] = one;
      }
    });
    this.layers.needsUpdate = true;
    // In water a coat mirrors next to nothing.
    this.common.blur.value = Math.min(1, sheen / SATIN);
    this.common.gloss.value = Math.max(0, 1 - sheen / MATTE) * (wet ? WET : 1);
    this.common.tone.value.set(...tone);
    this.common.veil.value.set(...veil);
    // In the dark and in open water there is no ground for a shadow to fall on.
    this.shadow.mesh.visible = !wet && Math.max(...tone) > 0.02;
    const { skin } = this.body;
    this.scene.traverse((mesh) => {
      const fitting = mesh.userData.painted;
      if (!fitting) return;
      const [u, z] = fitting.points[0], at = Math.min(Math.max(u, 0.03), 0.96), v = Math.abs(
        z) < 0.03 ? 0.25 : z > 0 ? 0.015 : 0.485;
      const cell = 3 * (Math.floor(at * skin.u) * skin.half + Math.min(Math.floor(v * skin.v),
        skin.half - 1));
      mesh.material.uniforms.paint.value.set(colours[2][cell], colours[2][cell + 1], colours[
        2][cell + 2]);
    });
  }

  /**
   * Other colours of some cells, until it is lit again.
   * @param {Iterable<number>} cells
   * @param {function(number, number, number[])} seen writes linear light of a cell at an angle
   */
  touch(cells, seen) {
    const { count, head } = this.body.skin, half = three.DataUtils.toHalfFloat, out = [0, 0, 0];
    for (const cell of cells)
      for (let angle = 0; angle < head.angles.length; angle++) {
        seen(cell, angle, out);
        for (let c = 0; c < 3; c++) this.halves[4 * (count * angle + cell) + c] = half(Math.min(
          out[
            c], 6e4));
      }
    this.layers.needsUpdate = true;
  }

  /**
   * Draw it as the body stands.
   * @param {{width: number, height: number}} size of the picture, px of the screen
   * @param {boolean} moving
   */
  draw(size, moving) {
    if (this.lost || !this.scene) return;
    const { at, turn } = this.body, fine = moving ? MOVING : RESTING;
    const wide = Math.round(size.width * fine),
      high = Math.round(size.height * fine);
    if (this.canvas.width !== wide || this.canvas.height !== high) this.renderer.setSize(wide,
      high, false);
    this.common.turn.value.set(...turn);
    this.common.spine.value.forEach((one, k) => one.fromArray(at.spine, 3 * k));
    this.common.frame.value.set((2 * at.scale) / at.width, (2 * at.scale) / at.height, (2 * at
      .cx) / at.width - 1, 1 - (2 * at.cy) / at.height);
    this.common.resting.value = moving ? 0 : 1;
    if (this.shadow.mesh.visible) this.shadow.fall(this.body);
    this.renderer.render(this.scene, this.camera);
  }
}

// Corners cut off, so often.
const smoothed = (points, turns) => {
  let found = points;
  for (let turn = 0; turn < turns; turn++)
    found = found.flatMap((p, k) => {
      const q = found[(k + 1) % found.length];
      return [
        [0.8 * p[0] + 0.2 * q[0], 0.8 * p[1] + 0.2 * q[1]],
        [0.2 * p[0] + 0.8 * q[0], 0.2 * p[1] + 0.8 * q[1]]
      ];
    });
  return found;
};
