// How a bait is lit, for the graphics card: the same light and shade as on paper (`shade` of the skin), and over it what
// paper leaves out: the clear coat's mirror image of the room, facets of foil, points of a hologram.

const COMMON = `
precision highp float;
uniform mat3 turn;
uniform vec3 spine[49];
uniform vec4 frame; // scale and middle in the clip's units
vec3 bent(float u, vec2 off, out float heading) {
  float i = clamp(u, 0.0, 1.0) * 48.0;
  int low = min(int(floor(i)), 47);
  vec3 a = spine[low], b = spine[low + 1];
  heading = a.x;
  float beyond = u < 0.0 ? u : max(u - 1.0, 0.0);
  vec2 at = mix(a.yz, b.yz, i - float(low)) + beyond * vec2(cos(heading), sin(heading));
  return vec3(at.x - sin(heading) * off.x, at.y + cos(heading) * off.x, off.y);
}
vec3 swung(vec3 n, float heading) {
  return turn * vec3(cos(heading) * n.x - sin(heading) * n.y, sin(heading) * n.x + cos(heading) * n.y, n.z);
}
vec4 placed(vec3 p) {
  vec3 q = turn * p;
  return vec4(q.x * frame.x + frame.z, q.z * frame.y + frame.w, -0.3 * q.y, 1.0);
}
`;

/** Of the skin. Normals and ways along and around it go in lengths of the bait; out they lie as right, eye, up. */
export const BODY_VERTEX = `${COMMON}
in vec3 along; in vec3 around;
out vec3 vNormal; out vec3 vAlong; out vec3 vAround; out vec2 vPlace;
void main() {
  float heading;
  vec3 p = bent(uv.x, position.yz, heading);
  vNormal = swung(normal, heading); vAlong = swung(along, heading); vAround = swung(around, heading);
  vPlace = uv;
  gl_Position = placed(p);
}`;

// The room: a long soft box above, a window before it, and dim grey around. Neutral throughout.
const LIT = `
precision highp float;
uniform vec3 lamp; // right, eye, up
uniform vec4 shade; // of the lamp, of the room, more from above, shoulder
uniform float soft, gloss, blur; // of the surface: how much it mirrors, and 1 where it does so dimly
uniform vec3 tone, veil; // white in this light, what the water adds
const vec3 share_of_y = vec3(0.2126, 0.7152, 0.0722);
out vec4 colour;
// A satin surface blurs it.
float room(vec3 r) {
  float above = smoothstep(0.50 - 0.35 * blur, 0.62 + 0.10 * blur, r.z) * (1.0 - smoothstep(0.70 - 0.05 * blur, 0.84 + 0.30 * blur, r.z)) * smoothstep(-0.2, 0.2, r.y);
  float window = smoothstep(0.30 - 0.25 * blur, 0.36 + 0.10 * blur, -r.x) * (1.0 - smoothstep(0.62 - 0.10 * blur, 0.68 + 0.25 * blur, -r.x))
    * smoothstep(0.10 - 0.30 * blur, 0.16 + 0.10 * blur, r.z) * (1.0 - smoothstep(0.42 - 0.10 * blur, 0.48 + 0.30 * blur, r.z));
  float bar = max(blur, smoothstep(0.012, 0.03, abs(r.z - 0.29)) * smoothstep(0.012, 0.03, abs(-r.x - 0.5)));
  return 0.10 + 0.12 * max(r.z, 0.0) + (5.5 - 2.3 * blur) * above + (2.6 - 1.3 * blur) * window * bar;
}
float fresnel(float c) { return 0.04 + 0.96 * pow(1.0 - clamp(c, 0.0, 1.0), 5.0); }
vec3 shown(vec3 light) {
  float most = max(light.r, max(light.g, light.b)), shoulder = shade.w;
  if (most > shoulder) light *= (shoulder + (1.0 - shoulder) * (1.0 - exp(-(most - shoulder) / soft))) / most;
  // More colourful than the screen: greyed at the same luminance.
  float low = min(light.r, min(light.g, light.b)), grey = clamp(dot(light, share_of_y), 0.0, 1.0);
  if (low < 0.0) light = grey + (light - grey) * grey / max(grey - low, 1e-6);
  light = clamp(light, 0.0, 1.0);
  return mix(12.92 * light, 1.055 * pow(light, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, light));
}
`;

/** Of the skin: colours by the angle between the eye and the mirrored lamp, relief, foil's facets, the clear coat. */
export const BODY_FRAGMENT = `${LIT}
precision highp sampler2DArray;
uniform sampler2DArray colours; // rgb of each cell, layer an angle
uniform sampler2D relief; // height in lengths
uniform sampler2D kinds; // what each cell's ground is
uniform float angles[5];
uniform vec3 grain; // which way foil's lines run, along counts, across counts
uniform vec2 cells; // of the textures: along, around
uniform float alike, length_mm, turned, resting;
uniform float joints[6];
in vec3 vNormal; in vec3 vAlong; in vec3 vAround; in vec2 vPlace;

vec2 folded(vec2 at) { float v = fract(at.y); return vec2(alike > 0.5 ? 1.0 - abs(1.0 - 2.0 * v) : v, at.x); }
float high(vec2 at) { float v = fract(at.y); return texture(relief, vec2(1.0 - abs(1.0 - 2.0 * v), at.x)).r; }
float chance(vec2 p) { vec3 q = fract(vec3(p.xyx) * vec3(0.1031, 0.1030, 0.0973)); q += dot(q, q.yzx + 33.33); return fract((q.x + q.y) * q.z); }
// Between the cells' colours, at rest softened over a quarter of a cell: the edge of a mask that runs aslant has no steps.
vec3 cell_of(vec2 at, float layer) {
  if (resting < 0.5) return texture(colours, vec3(at, layer)).rgb;
  vec2 quarter = 0.25 / vec2(textureSize(colours, 0).xy);
  vec3 sum = vec3(0.0);
  for (int k = 0; k < 4; k++) sum += texture(colours, vec3(at + quarter * vec2(k < 2 ? -1.0 : 1.0, (k & 1) == 0 ? -1.0 : 1.0), layer)).rgb;
  return 0.25 * sum;
}
vec3 seen(vec2 at, float angle) {
  float place = 0.0;
  for (int k = 0; k < 4; k++) place += clamp((angle - angles[k]) / (angles[k + 1] - angles[k]), 0.0, 1.0);
  float low = min(floor(place), 3.0);
  return mix(cell_of(at, low), cell_of(at, low + 1.0), place - low);
}
void main() {
  vec3 smooth_normal = normalize(vNormal);
  float lu = max(length(vAlong), 1e-4), lv = max(length(vAround), 1e-4);
  vec2 step_ = vec2(0.7 / cells.x, 0.7 / cells.y);
  float du = (high(vPlace + vec2(step_.x, 0.0)) - high(vPlace - vec2(step_.x, 0.0))) / (2.0 * step_.x);
  float dv = (high(vPlace + vec2(0.0, step_.y)) - high(vPlace - vec2(0.0, step_.y))) / (2.0 * step_.y);
  vec3 rise = du / lu * vAlong / lu + dv / lv * vAround / lv;
  vec3 n = normalize(smooth_normal - rise);
  vec2 at = folded(vPlace);
  float kind = floor(texture(kinds, at).r * 255.0 + 0.5);
  vec3 eye = vec3(0.0, 1.0, 0.0), half_way = normalize(lamp + eye);
  vec3 facet = n;
  float shift = 0.0, bright = 1.0;
  // Places of the skin in mm, so that facets are as large as they are.
  vec2 mm = vec2(vPlace.x * length_mm, vPlace.y * lv * length_mm);
  if (kind == 2.0) { // stamped: small faces, each its own way
    vec2 cell = floor(vec2(mm.x / 1.6 + 0.5 * mod(floor(mm.y / 1.2), 2.0), mm.y / 1.2));
    vec2 lean = vec2(chance(cell), chance(cell + 71.0)) - 0.5;
    facet = normalize(n + 0.30 * (lean.x * vAlong / lu + lean.y * vAround / lv));
  } else if (kind == 3.0) { // holographic: points that shift the angle, uneven
    vec2 cell = floor(mm / 0.4);
    shift = 70.0 * (chance(cell) - 0.5);
    bright = 0.35 + 2.2 * pow(chance(cell + 19.0), 3.0);
  } else if (kind == 5.0) { // glitter: a few flakes that flash
    vec2 cell = floor(mm / 0.5);
    vec2 lean = vec2(chance(cell + 5.0), chance(cell + 43.0)) - 0.5;
    facet = normalize(n + 0.5 * (lean.x * vAlong / lu + lean.y * vAround / lv));
  }
  float rises = max(dot(facet, half_way), 1e-5);
  vec3 off = half_way - rises * facet;
  float tilt = length(off);
  if (kind > 0.0) {
    vec3 way = normalize(vAlong - dot(vAlong, facet) * facet), other = cross(facet, way);
    if (grain.x == 1.0) way = other; else if (grain.x == 2.0) way = normalize(way + other);
    float along = dot(off, way), across = max(dot(off, off) - along * along, 0.0);
    tilt = sqrt(grain.y * grain.y * along * along + grain.z * grain.z * across);
  }
  float angle = abs(degrees(2.0 * atan(tilt, rises)) + shift);
  vec3 direct = seen(at, angle), rest = cell_of(at, turned);
  float mirrors = dot(n, lamp);
  if (kind == 3.0) {
    // over a silver that averages to neutral
    float grey = dot(rest, share_of_y);
    direct = mix(vec3(dot(direct, share_of_y)), direct, 0.85) * bright;
    rest = mix(vec3(grey), rest, 0.5);
  }
  vec3 light = shade.x * max(mirrors, 0.0) * direct + (shade.y + shade.z * n.z) * rest;
  // Where foil faces no lamp it mirrors the dim room.
  for (int k = 0; k < 6; k++) if (joints[k] > 0.0) light *= smoothstep(0.0025, 0.006, abs(vPlace.x - joints[k]));
  vec3 coat = normalize(mix(smooth_normal, n, 0.33));
  float facing = coat.y;
  vec3 mirrored = 2.0 * facing * coat - eye;
  light += gloss * fresnel(facing) * room(mirrored) * tone;
  colour = vec4(shown(light), 1.0);
}`;

/** Of what is fitted: flat plates with an edge, eyes, wire. */
export const PART_VERTEX = `${COMMON}
in vec2 own; // where on the part itself
out vec3 vNormal; out vec2 vOwn;
void main() {
  float heading;
  vec3 p = bent(position.x, position.yz, heading);
  vNormal = swung(normal, heading);
  vOwn = own;
  gl_Position = placed(p);
}`;

export const PART_FRAGMENT = `${LIT}
uniform vec3 paint; uniform float stuff; // 0 hard, 1 soft, 2 metal, 3 clear, 4 eye
uniform vec3 iris; uniform float slit; // 1: the pupil stands upright
uniform float sprayed; // 1: its paint is told in this light already
in vec3 vNormal; in vec2 vOwn;
void main() {
  vec3 n = normalize(vNormal);
  if (n.y < 0.0 && stuff != 4.0) n = -n;
  vec3 base = paint, eye = vec3(0.0, 1.0, 0.0);
  float alpha = 1.0, shine = 1.0;
  if (stuff == 4.0) {
    float r = length(vOwn), pupil = slit > 0.5 ? length(vOwn / vec2(0.17, 0.66)) : r / 0.46;
    vec3 ring = iris * (0.62 + 0.38 * smoothstep(0.95, 0.45, r)) * (0.92 + 0.08 * sin(38.0 * atan(vOwn.y, vOwn.x)) * smoothstep(0.3, 0.8, r));
    base = mix(vec3(0.012), ring, smoothstep(0.96, 1.04, pupil));
    base = mix(base, vec3(0.03), smoothstep(0.90, 0.97, r));
    n = normalize(n);
  } else if (stuff < 1.5) { // rays of a fin or a tail
    float ray = sin(46.0 * vOwn.y) * smoothstep(0.02, 0.4, vOwn.x);
    base *= 0.94 + 0.09 * ray;
    n = normalize(n + vec3(0.0, 0.0, 0.10 * cos(46.0 * vOwn.y)));
    shine = stuff < 0.5 ? 0.8 : 0.45;
  } else if (stuff == 3.0) {
    float edge = pow(1.0 - abs(n.y), 2.0);
    alpha = 0.30 + 0.55 * edge;
    base = vec3(0.62);
  }
  float falls = max(dot(n, lamp), 0.0);
  vec3 light = base * (shade.x * falls + shade.y + shade.z * n.z);
  vec3 mirrored = 2.0 * n.y * n - eye;
  float f = stuff == 2.0 ? 0.62 : fresnel(n.y) * shine;
  if (stuff == 2.0) light *= 0.30;
  light = mix(light * tone + veil, light, sprayed) + f * room(mirrored) * (stuff == 2.0 ? 1.0 : max(gloss, 0.08)) * tone;
  if (stuff == 3.0) alpha = clamp(alpha + 0.6 * f * room(mirrored) * tone.g, 0.0, 1.0);
  colour = vec4(shown(light) * alpha, alpha);
}`;
