// The plan's page: the bait follows the hand; what is changed comes back as a new skin, first
// rough, then whole.

import { _ } from "./kit/words.js";
import { bytes } from "./kit/screen.js";
import { Body } from "./plan_body.js";
import { Skin } from "./plan_skin.js";
import { Stage } from "./plan_stage.js";
import { atTheBait } from "./plan_at_bait.js";
import { Hand, lookAround } from "./plan_hand.js";
import { listLayers } from "./plan_layers.js";
import { showsMasks } from "./plan_masks.js";
import { ruler, zooming } from "./plan_view.js";
import { TREBLE } from "./plan_wire.js";

const canvas = document.getElementById("bait");
const number = canvas.dataset.plan,
  own = `/plan/${number}`,
  context = canvas.getContext("2d");
const named = canvas.getAttribute("aria-label");
const byId = (id) => document.getElementById(id);
const still = matchMedia("(prefers-reduced-motion: reduce)");
const LOOKS = { left: [0, 0], right: [0, 180], back: [90, 0], belly: [-90, 0], quarter: [18, 38] };
const WIDTH = 760, // of the picture's own units
  SLIM = 0.2, // of the picture's height
  RESTS = 150; // ms after which what moved is drawn whole
const pose = { roll: 0, yaw: 0, pitch: 0, swim: null, scale: 0.84, zoom: 1, shift: [0, 0] };
let height = 267,
  bait = null,
  lights = null,
  asked = 0,
  drawn = false,
  look = "left",
  hooked = false,
  measured = false,
  mark = null;

const sheet = () => byId("plan");
const masks = showsMasks({ own, sheet, shown: () => relight() });
// Without WebGL2 the server's own pictures are shown.
const stage = Stage.able() ? new Stage(canvas) : null;
const drawing = () => stage !== null && !stage.lost;

// Changes wait for one another as presses do.
const change = (path, values) => htmx.ajax("POST", path, {
  source: sheet(),
  target: "#plan",
  swap: "morph:outerHTML",
  values
});

// --- drawing ---
const room = () => {
  const box = canvas.getBoundingClientRect();
  const dense = Math.min(window.devicePixelRatio || 1, 2);
  canvas.width = Math.max(200, Math.round(box.width * dense));
  canvas.height = Math.max(100, Math.round(box.height * dense));
  height = Math.round((WIDTH * canvas.height) / canvas.width);
};

// Between which two depths of the table the bait hangs: the upper one, and how far towards the
// next.
const sunk = () => {
  const place = Number(byId("depth").value),
    low = Math.min(Math.floor(place), lights.depths.length - 2);
  return [low, place - low];
};

const lightNow = () => {
  const chosen = byId("light").value,
    water = lights.waters[chosen];
  if (!water) {
    const at = lights.lights.findIndex((one) => one.key === chosen);
    return [lights
      .lights[Math.max(at, 0)], Math.max(at, 0)
    ];
  }
  const [low, part] = sunk();
  const first = lights.lights.findIndex((one) => one.key === `${chosen}@${lights.depths[low]}`);
  const one = lights.lights[first],
    other = lights.lights[first + 1];
  const between = (a, b) => (Array.isArray(a) ? a.map((x, k) => between(x, b[k])) : a * (1 -
    part) + b * part);
  const blended = {
    factors: between(one.factors, other.factors),
    radiance: between(one.radiance,
      other.radiance),
    veil: between(one.veil, other.veil)
  };
  return [blended, part < 0.5 ? first : first + 1];
};

const relight = (moving = false) => {
  if (!bait || !lights) return;
  const [light, index] = lightNow(), surface = byId("surface").value,
    sheen = surface ? Number(surface) : bait.skin.head.sheen;
  // White in this light, and what stands around the bait: the bench, the water, the dark.
  const tone = [0, 1, 2].map((c) => light.factors.reduce((sum, row) => sum + row[c], 0)),
    water = lights.waters[byId("light").value];
  const most = Math.max(...light.veil, 1e-6),
    dark = Math.max(...tone) < 0.02;
  canvas.parentElement.style.background = water ?
    `rgb(${bytes(light.veil.map((one) => 0.05 + (0.16 * one) / most)).join(" ")})` :
    dark ? "#0c0c0c" : "";
  if (drawing()) {
    const colours = bait.skin.colours(light, index, sheen);
    masks.cover(bait.skin, colours, tone);
    hand.ladder?.lay(bait, colours, (skin) => skin.colours(light, index, sheen));
    stage.lit(colours, sheen, {
      tone,
      veil: light.veil,
      wet: Boolean(water)
    });
    stage.hook(hooked);
  } else picture();
  draw(moving);
};

// The server's own pictures: of the nearest of four sides, in the light that is chosen.
let shown = null;
const picture = () => {
  const sides = { left: 0, back: 90, right: 180, belly: -90 },
    toward = Math.cos((pose.yaw * Math.PI) / 180);
  const far = (deg) => Math.abs(((pose.roll + (toward < 0 ? 180 : 0) - deg + 540) % 360) - 180);
  const side = Object.keys(sides).sort((a, b) => far(sides[a]) - far(sides[b]))[0];
  const steps = byId("steps"),
    query = Number(steps.value) >= Number(steps.max) ? "" : `&steps=${steps.value}`;
  const water = lights.waters[byId("light").value];
  const light = byId("light").value + (water ?
    `@${byId("depth-said").textContent.replace(" m", "")}` : "");
  const address =
    `${own}/picture.png?side=${side}&width=1200&light=${encodeURIComponent(light)}${query}&of=${sheet().dataset.revision}`;
  if (shown?.address === address) return;
  const image = new Image();
  image.onload = () => draw();
  image.src = address;
  shown = { address, image };
};

let resting = 0;
// A slim bait leaves room for its other sides: each lies so far below the middle, in heights of the picture.
const beside = () => {
  const tall = bait.high - bait.low;
  if (!drawing() || pose.zoom > 1 || pose.swim || tall * pose.scale * WIDTH > SLIM * height)
    return [];
  return [
    [look === "back" ? "left" : "back", -0.31],
    [look === "belly" ? "left" : "belly", 0.31]
  ];
};
// They stay as they were while the bait moves.
const kept = document.createElement("canvas");
const keep = (others) => {
  for (const [at, [key, lower]] of others.entries()) {
    bait.stand({ ...pose, roll: LOOKS[key][0], yaw: LOOKS[key][1], pitch: 0 }, WIDTH, height,
      lower * height);
    stage.draw(canvas, false);
    if (!at)[kept.width, kept.height] = [stage.canvas.width, stage.canvas.height]; // and empty
    kept.getContext("2d").drawImage(stage.canvas, 0, 0);
  }
};
const draw = (moving = false) => {
  if (!bait || !lights) return;
  clearTimeout(resting);
  canvas.dataset.moving = moving ? "yes" : "";
  pose.scale = Math.min(0.9, 0.92 / bait.long, (0.96 * height) / WIDTH / (bait.high - bait.low));
  const others = beside();
  if (others.length && !moving) keep(others);
  bait.stand(pose, WIDTH, height);
  context.clearRect(0, 0, canvas.width, canvas.height);
  if (drawing()) {
    stage.draw(canvas, moving);
    if (others.length) context.drawImage(kept, 0, 0, canvas.width, canvas.height);
    if (moving && !pose.swim) resting = setTimeout(draw, RESTS);
  } else {
    picture();
    const image = shown.image;
    if (!image.width) canvas.dataset.moving = "yes"; // until it is there
    else {
      const fits = Math.min(canvas.width / image.width, canvas.height / image.height) * 0.96 *
        pose.zoom;
      const [right, down] = pose.shift.map((one) => (one * canvas.width) / WIDTH);
      context.drawImage(image, (canvas.width - fits * image.width) / 2 + right, (canvas.height -
        fits * image.height) / 2 + down, fits * image.width, fits * image.height);
    }
  }
  const ratio = canvas.width / WIDTH;
  edges(ratio);
  cross(ratio);
  hand.paint(context, ratio);
  if (measured && drawing()) ruler(context, bait, ratio, canvas.dataset.units);
};

const line = (points, ratio) => {
  for (const [width, colour] of [
      [4, "#000"],
      [2, "#fff"]
    ]) {
    context.beginPath();
    let open = false;
    for (const [u, v] of points) {
      if (bait.faces(u, v) <= 0) { open = false; continue; }
      const [, y, z] = bait.corner(u, v), [x, top] = bait.project(u, y, z);
      if (open) context.lineTo(x * ratio, top * ratio);
      else context.moveTo(x * ratio, top * ratio);
      open = true;
    }
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.setLineDash(colour === "#fff" ? [7, 6] : []);
    context.stroke();
  }
  context.setLineDash([]);
};

const boxNow = () => {
  const text = sheet()?.dataset.box;
  if (!text) return null;
  const [u0, u1, v0, v1] = text.split(" ").map(Number);
  return dragged?.box ?? { u0, u1, v0, v1 };
};

const along = (from, to) => Array.from({ length: 41 }, (_, k) => from + ((to - from) * k) / 40);
const lines = (box) => {
  const found = [];
  for (const side of [(v) => v, (v) => 1 - v]) {
    if (box.u0 > 0) found.push(["u0", along(box.v0, box.v1).map((v) => [box.u0, side(v)])]);
    if (box.u1 < 1) found.push(["u1", along(box.v0, box.v1).map((v) => [box.u1, side(v)])]);
    if (box.v0 > 0) found.push(["v0", along(box.u0, box.u1).map((u) => [u, side(box.v0)])]);
    if (box.v1 < 0.5) found.push(["v1", along(box.u0, box.u1).map((u) => [u, side(box.v1)])]);
  }
  return found;
};
const edges = (ratio) => {
  const box = boxNow();
  if (box && bait.at)
    for (const [, points] of lines(box)) line(points, ratio);
};

const cross = (ratio) => {
  if (!mark || bait.faces(mark.u, mark.v) <= 0) return;
  const [, y, z] = bait.corner(mark.u, mark.v), [x, top] = bait.project(mark.u, y, z);
  for (const [width, colour] of [
      [5, "#000"],
      [2, "#fff"]
    ]) {
    context.beginPath();
    for (const [dx, dy] of [
        [1, 0],
        [0, 1]
      ]) {
      context.moveTo((x * ratio) - 12 * dx, top * ratio - 12 * dy);
      context.lineTo(x * ratio + 12 * dx, top * ratio + 12 * dy);
    }
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.stroke();
  }
};

// --- what comes from the server ---
const load = async () => {
  const ticket = ++asked,
    steps = byId("steps"),
    all = Number(steps.value) >= Number(steps.max);
  const query = all ? "" : `&steps=${steps.value}`;
  // What was drawn is on the picture already.
  for (const rough of hand.ladder?.base ? ["rough=0"] : ["rough=1", "rough=0"]) {
    try {
      const skin = await Skin.load(`${own}/skin?${rough}${query}`);
      if (ticket !== asked) return;
      bait = new Body(skin);
      canvas.setAttribute("aria-label", `${named}: ${skin.head.words}`);
      stage?.put(bait);
      bait.hang(hooked ? TREBLE : 0);
      relight(rough === "rough=1");
      if (rough === "rough=0") {
        hand.climb();
        hand.look_up();
      }
      canvas.dataset.shown = rough === "rough=0" ?
        `${sheet().dataset.revision}:${steps.value}` : "";
    } catch (error) {
      if (ticket === asked) byId("here").textContent = String(error.message ||
        _("The picture did not come: try again."));
      return;
    }
  }
};

const lightChoices = () => {
  const select = byId("light"),
    seen = new Set();
  for (const one of lights.lights) {
    const [key] = one.key.split("@"), water = lights.waters[key];
    if (water && seen.has(key)) continue;
    seen.add(key);
    select.append(new Option(water ? `${water}, sunk` : one.words, water ? key : one.key));
  }
  const wanted = canvas.dataset.light.split("@");
  select.value = lights.waters[wanted[0]] ? wanted[0] : canvas.dataset.light;
  if (!select.value) select.value = "D65";
};

const say = () => {
  byId("roll-said").textContent = `${pose.roll}°`;
  byId("pitch-said").textContent = `${pose.pitch}°`;
  const water = lights?.waters[byId("light").value],
    [low, part] = water ? sunk() : [0, 0];
  byId("depth").disabled = !water;
  byId("depth").closest("label").hidden = !water;
  byId("depth-said").textContent = water ?
    `${(lights.depths[low] + (lights.depths[low + 1] - lights.depths[low]) * part).toFixed(1)} m` :
    "";
  const steps = byId("steps");
  byId("steps-said").textContent = _("{shown} of {all}", { shown: steps.value, all: steps.max });
};

const choose = (key) => {
  look = key;
  [pose.roll, pose.yaw] = LOOKS[key];
  byId("roll").value = pose.roll;
  for (const one of document.querySelectorAll("[data-look]")) one.setAttribute("aria-pressed",
    String(one.dataset.look === key));
  say();
  draw();
};

let before = null;
let told = false; // the checks as they stand came with what changed the plan
const ask = () => {
  const checks = byId("checks");
  htmx.ajax("GET", checks.dataset.ask, {
    source: checks,
    target: "#checks",
    swap: "innerHTML"
  });
};
const arrived = () => {
  const now = sheet();
  if (!now) return;
  const steps = byId("steps"),
    full = Number(steps.value) >= Number(steps.max);
  steps.max = now.dataset.layers;
  if (full || Number(steps.value) > Number(steps.max)) steps.value = steps.max;
  say();
  if (before !== now.dataset.revision) {
    before = now.dataset.revision;
    load();
    if (told) told = false;
    else ask();
  } else draw();
  beside_bait();
  looks();
  masks.look_up();
  hand.climb();
  hand.look_up();
};

// --- the hand ---
let turned = null,
  dragged = null;
zooming(canvas, {
  pose,
  middle: () => bait?.at && [bait.at.cx, bait.at.cy],
  place: (event) => place(event),
  began: () => {
    turned = dragged = null;
    hand.wipe();
  },
  draw
});
const place = (event) => {
  const box = canvas.getBoundingClientRect();
  return [((event.clientX - box.left) / box.width) * WIDTH, ((event.clientY - box.top) / box
    .height) * height];
};
const cellAt = ([x, y]) => bait?.at ? bait.cellAt(x, y) : null;
const edgeAt = ([x, y]) => {
  const box = boxNow();
  if (!box || !bait) return null;
  let best = null,
    near = (12 * WIDTH) / canvas.getBoundingClientRect().width;
  for (const [key, points] of lines(box))
    for (const [u, v] of points) {
      if (bait.faces(u, v) <= 0) continue;
      const [, py, pz] = bait.corner(u, v), [px, top] = bait.project(u, py, pz), far = Math.hypot(
        px - x, top - y);
      if (far < near) {
        near = far;
        best = key;
      }
    }
  return best;
};

const hand = new Hand({
  canvas,
  own,
  sheet,
  bait: () => bait,
  get stage() { return drawing() ? stage : null; },
  place,
  cell: (event) => cellAt(place(event)),
  middle: () => cellAt([WIDTH / 2, height / 2]),
  get mark() { return mark; },
  set mark(cell) { mark = cell; },
  // The cross, by so many mm along the bait and around it.
  nudge: (along, around) => {
    const from = mark ?? cellAt([WIDTH / 2, height / 2]);
    if (!from) return;
    const turn = from.v > 0.5 ? -1 : 1;
    mark = {
      u: Math.min(Math.max(from.u + along / bait.skin.head.geometry.length_mm, 0), 1),
      v: (from.v + turn * around / bait.girth(from.u) + 1) % 1
    };
    draw();
  },
  change: (path, values) => change(own + path, values),
  draw: (moving) => draw(moving),
  relight: () => relight()
});

canvas.addEventListener("pointerdown", (event) => {
  if (!bait) return;
  if (hand.down(event)) {
    if (event.isPrimary) canvas.setPointerCapture(event.pointerId);
    return;
  }
  const at = place(event),
    edge = edgeAt(at);
  canvas.setPointerCapture(event.pointerId);
  if (edge) dragged = { edge, box: { ...boxNow() } };
  else turned = { at, roll: pose.roll, yaw: pose.yaw, moved: false };
});
canvas.addEventListener("pointermove", (event) => {
  if (hand.move(event)) return;
  if (dragged) {
    const cell = cellAt(place(event));
    if (cell) {
      const value = dragged.edge[0] === "u" ? cell.u : Math.min(cell.v, 1 - cell.v),
        box = dragged.box;
      const [low, high] = {
        u0: [0, box.u1 - 0.01],
        u1: [box.u0 + 0.01, 1],
        v0: [0, box.v1 -
          0.01
        ],
        v1: [box.v0 + 0.01, 0.5]
      } [dragged.edge];
      box[dragged.edge] = Math.min(Math.max(value, low), high);
      draw(true);
    }
    return;
  }
  if (!turned) return;
  const [x, y] = place(event), dx = x - turned.at[0], dy = y - turned.at[1];
  if (Math.hypot(dx, dy) > 4) turned.moved = true;
  if (!turned.moved) return;
  pose.yaw = turned.yaw + dx * 0.35;
  pose.roll = Math.round(((turned.roll + dy * 0.6 + 540) % 360) - 180);
  byId("roll").value = pose.roll;
  say();
  draw(true);
});
canvas.addEventListener("pointerup", (event) => {
  if (hand.up(event)) return;
  if (dragged) {
    const { edge, box } = dragged, layer = sheet().dataset.layer;
    sheet().dataset.box = `${box.u0} ${box.u1} ${box.v0} ${box.v1}`;
    dragged = null;
    change(`${own}/layers/${layer}/edges`, {
      [edge]: box[edge].toFixed(4)
    });
  } else if (turned && !turned.moved) {
    const at = place(event),
      cell = cellAt(at);
    const other = beside().find(([, lower]) => Math.abs(at[1] - (0.5 + lower) * height) < 0.12 *
      height);
    if (cell) look_at(cell);
    else if (other) choose(other[0]);
  }
  turned = null;
});
canvas.addEventListener("pointercancel", () => {
  hand.wipe();
  turned = dragged = null;
  draw();
});

const look_at = (cell) => {
  if (!cell) return;
  mark = cell;
  looks();
  draw();
  const light = byId("light").value,
    water = lights?.waters[light];
  const depth = water ? `@${byId("depth-said").textContent.replace(" m", "")}` : "";
  htmx.ajax("GET",
    `${own}/at?u=${cell.u.toFixed(4)}&v=${cell.v.toFixed(4)}&light=${encodeURIComponent(light + depth)}`, {
      target: "#here",
      swap: "innerHTML"
    });
};

// The arrow keys turn it, or move what the hand holds; Enter asks what lies under the cross.
canvas.addEventListener("keydown", (event) => {
  if (!event.ctrlKey && !event.metaKey && hand.key(event)) {
    event.preventDefault();
    event.stopPropagation();
    return;
  }
  const steps = {
    ArrowLeft: [0, -10],
    ArrowRight: [0, 10],
    ArrowUp: [10, 0],
    ArrowDown: [-10,
      0
    ]
  } [event.key];
  if (steps) {
    pose.roll += steps[0];
    pose.yaw += steps[1];
    byId("roll").value = pose.roll;
    say();
    draw();
    event.preventDefault();
    event.stopPropagation();
  }
  if (event.key === "Enter") look_at(mark ?? cellAt([WIDTH / 2, height / 2]));
});

byId("roll").addEventListener("input", (event) => {
  pose.roll = Number(event.target.value);
  say();
  draw(true);
});
byId("pitch").addEventListener("input", (event) => {
  pose.pitch = Number(event.target.value);
  say();
  draw(true);
});
byId("light").addEventListener("change", (event) => {
  say();
  relight();
  const water = lights.waters[event.target.value];
  htmx.ajax("POST", `${own}/light`, {
    swap: "none",
    values: {
      light: water ?
        `${event.target.value}@${lights.depths[0]}` : event.target.value
    }
  });
});
byId("surface").addEventListener("change", () => relight());
byId("depth").addEventListener("input", () => {
  say();
  relight(true);
});
byId("steps").addEventListener("input", () => {
  say();
  load();
});
byId("photo-over")?.addEventListener("input", (event) => {
  const photo = byId("reference");
  photo.hidden = event.target.value === "0";
  // the photo has a margin at nose and tail
  photo.style.width = `${100 * pose.scale * 1.08}%`;
  photo.style.left = `${100 * (0.5 - pose.scale * (0.5 + bait.middle + 0.04))}%`;
  photo.style.top = `${(100 * bait.at.cy) / height}%`;
  photo.style.opacity = String(event.target.value / 100);
});

document.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (!button) return;
  if (button.dataset.look) choose(button.dataset.look);
  if (button.dataset.u) {
    const u = Number(button.dataset.u),
      v = Number(button.dataset.v);
    choose(v < 0.12 ? "back" : v > 0.4 ? "belly" : "left");
    look_at({ u, v });
  }
  if ("hooks" in button.dataset) {
    hooked = !hooked;
    button.setAttribute("aria-pressed", String(hooked));
    bait?.hang(hooked ? TREBLE : 0);
    relight();
  }
  if ("ruler" in button.dataset) {
    measured = !measured;
    button.setAttribute("aria-pressed", String(measured));
    draw();
  }
  if ("swim" in button.dataset) swim(button);
  if ("play" in button.dataset) play(button);
});

let swimming = 0,
  playing = 0;
const swim = (button) => {
  cancelAnimationFrame(swimming);
  const on = button.getAttribute("aria-pressed") !== "true";
  button.setAttribute("aria-pressed", String(on));
  pose.swim = null;
  if (!on) return draw();
  if (still.matches) { pose.swim = { phase: 1.2, size: 0.3 }; return draw(); }
  const frame = (now) => {
    pose.swim = { phase: now / 320, size: 0.3 };
    draw(true);
    swimming = requestAnimationFrame(frame);
  };
  swimming = requestAnimationFrame(frame);
};
const play = (button) => {
  clearInterval(playing);
  const steps = byId("steps"),
    on = button.getAttribute("aria-pressed") !== "true";
  button.setAttribute("aria-pressed", String(on));
  if (!on) return;
  steps.value = 0;
  const next = () => {
    if (Number(steps.value) >= Number(steps.max)) {
      clearInterval(playing);
      button.setAttribute("aria-pressed", "false");
      return;
    }
    steps.value = Number(steps.value) + 1;
    say();
    load();
  };
  playing = setInterval(next, still.matches ? 1600 : 900);
  say();
  load();
};

listLayers({ own, change });
const looks = lookAround(() => mark);
const beside_bait = atTheBait({ sheet, change: (path, values) => change(own + path, values) });

// A mend changed the plan: its layers are asked for, and with them the picture.
document.addEventListener("plan-changed", () => {
  const layer = sheet().dataset.layer;
  told = true;
  htmx.ajax("GET", own + (layer ? `?layer=${layer}` : ""), {
    source: sheet(),
    target: "#plan",
    swap: "morph:outerHTML"
  });
});
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id === "plan" || event
    .detail?.target?.id === "plan") arrived();
});
new ResizeObserver(() => {
  room();
  draw();
}).observe(canvas);

if (stage) {
  stage.onlost = () => relight();
  stage.onback = () => {
    if (bait) stage.put(bait);
    relight();
  };
}
document.querySelector("[data-ruler]").hidden = !
  stage; // the server's pictures are of their own size
room();
byId("steps").max = sheet().dataset.layers;
byId("steps").value = sheet().dataset.layers;
before = sheet().dataset.revision;
fetch(document.querySelector("link[href^='/plan/lights']").href).then((answer) => answer.json())
  .then((
    found) => {
    lights = found;
    lightChoices();
    say();
    relight();
  });
choose("left");
load();
ask();
masks.look_up();
