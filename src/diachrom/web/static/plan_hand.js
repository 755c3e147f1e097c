// What one finger does on the bait, by the tool that is in the hand: it sprays, sets marks, or moves what lies there. Two
// fingers, the wheel and keys turn and zoom whatever the tool is.

import { _ } from "./kit/words.js";
import { Ladder } from "./plan_ladder.js";
import { dragged, held, lies } from "./plan_place.js";
import { Airbrush, drawnOver } from "./plan_strokes.js";

const STANDS = 200, // ms between two looks at a hand that stands
  STEP_MM = 1,
  FAR_MM = 5;
const PATHS = ["brush", "dry", "scratch", "trail"]; // marks that are drawn, not set
const byId = (id) => document.getElementById(id);

/** The hand over a bait. */
export class Hand {
  /**
   * @param {object} page the plan's page: canvas, own, sheet(), bait(), stage (null without one), cell(event), mark (the
   *   cross), change(path, values), draw(moving), relight()
   */
  constructor(page) {
    Object.assign(this, {
      page,
      tool: "turn",
      ladder: null,
      climbing: "",
      sprayed: false,
      straight: false,
      from: null,
      lying: null,
      drag: null,
      set: null
    });
    this.airbrush = new Airbrush({
      cell: (event) => page.cell(event),
      mm: (a, b) => this.mm(a,
        b)
    });
    document.addEventListener("click", (event) => {
      const button = event.target.closest("[data-tool]");
      if (button) this.take(button.dataset.tool === this.tool ? "turn" : button.dataset.tool);
      if (event.target.closest("[data-straight]")) this.go_straight(event.target.closest(
        "[data-straight]"));
      const look = event.target.closest("[data-look-of]");
      if (look) this.pick(look.dataset.lookOf);
    });
    document.addEventListener("change", (event) => {
      if (event.target.id === "add-source") this.climb();
      if (event.target.id === "mark-tool") this.sizes(event.target);
      if (event.target.id === "stroke") page.draw();
    });
    // What was drawn and is refused comes off again.
    document.addEventListener("htmx:beforeSwap", (event) => {
      if (event.detail.xhr.status >= 400) this.wipe();
    });
  }

  // --- which tool ---
  take(tool) {
    this.tool = tool;
    const { canvas } = this.page;
    canvas.style.cursor = tool === "turn" ? "" : "crosshair";
    for (const one of document.querySelectorAll("[data-tool]"))
      one.setAttribute("aria-pressed", String(one.dataset.tool === tool));
    byId("mark-options").hidden = tool !== "mark";
    byId("spray-options").hidden = tool !== "spray";
    this.airbrush.on = tool === "spray" || this.drawn;
    this.from = this.set = this.drag = null;
    this.climb();
    this.look_up();
    this.page.draw();
  }

  get marker() { return byId("mark-tool").value; }
  get size() { return Number(byId("mark-size").value.replace(",", ".")) || 2; }
  // Whether a line is drawn with what is in the hand.
  get drawn() {
    return this.tool === "mark" && PATHS.includes(this.marker) || this.tool ===
      "outline";
  }

  sizes(select) {
    byId("mark-size").value = select.selectedOptions[0].dataset.size;
    this.airbrush.on = this.drawn;
  }

  go_straight(button) {
    this.straight = !this.straight;
    this.from = null;
    button.setAttribute("aria-pressed", String(this.straight));
  }

  // A paint chosen by its look goes into the hand.
  pick(key) {
    byId("add-source").value = key;
    byId("add-source").dispatchEvent(new Event("change", { bubbles: true }));
    for (const one of document.querySelectorAll("[data-look-of]"))
      one.setAttribute("aria-pressed", String(one.dataset.lookOf === key));
    if (this.tool === "turn" || this.tool === "place") this.take("spray");
  }

  mm(a, b) {
    const bait = this.page.bait(),
      [p, q] = [a, b].map((one) => bait.place(one.u, one.v));
    return bait.skin.head.geometry.length_mm * Math.hypot(...p.map((x, k) => x - q[k]));
  }

  // --- true colour while it is drawn ---
  async climb() {
    if (!["spray", "mark"].includes(this.tool) || !this.page.stage) return;
    const { own } = this.page, sheet = this.page.sheet(), source = byId("add-source").value;
    const layer = sheet.dataset.brushed,
      query = source ? `source=${encodeURIComponent(source)}` : layer ? `layer=${layer}` : "",
      wanted = query && `${own}/ladder?${query}&of=${sheet.dataset.revision}`;
    if (wanted === this.climbing) return;
    this.climbing = wanted;
    if (!this.sprayed) this.ladder = null;
    this.sprayed = false;
    if (!wanted) return;
    try {
      const found = await Ladder.load(wanted);
      if (this.climbing !== wanted) return;
      this.ladder = found;
      this.page.canvas.dataset.ladder = sheet.dataset.revision;
      if (!this.airbrush.down) this.page.relight();
    } catch { this.climbing = ""; } // then the hand's way alone is shown
  }

  touch(cells) {
    this.page.stage.touch(cells, (cell, angle, out) => this.ladder.seen(cell, angle, out));
  }

  // What was drawn and is not kept comes off the picture.
  wipe() {
    clearInterval(this.standing);
    this.drag = this.set = null;
    if (!this.airbrush.take().length && !this.sprayed) return;
    this.sprayed = false;
    this.ladder?.forget();
    this.page.relight();
  }

  // What was drawn since the last time, on the bait.
  colour() {
    const { airbrush, ladder } = this, stroke = airbrush.strokes.at(-1);
    if (!ladder?.base || !stroke || this.tool === "outline") return;
    const met = new Set(),
      wide = this.tool === "mark" ? this.size : 0;
    for (; airbrush.shown < stroke.length; airbrush.shown++)
      if (airbrush.shown)
        for (const cell of ladder.draw(stroke[airbrush.shown - 1], stroke[airbrush.shown], wide))
          met.add(cell);
    if (met.size) this.touch(met);
  }

  // A hand that stands goes on laying paint.
  stand() {
    clearInterval(this.standing);
    if (this.tool !== "spray") return;
    this.standing = setInterval(() => {
      if (this.page.canvas.dataset.moving) return;
      const stood = this.airbrush.stand(performance.now());
      if (!stood) return;
      if (this.ladder?.base) this.touch(this.ladder.draw(...stood));
      this.page.draw();
    }, STANDS);
  }

  // --- what is sent ---
  keep(strokes) {
    const sheet = this.page.sheet(),
      layer = sheet.dataset.brushed,
      source = byId("add-source").value;
    if (!strokes.length) return this.page.draw();
    if (!layer && !source) {
      byId("said").textContent = _(
        "Choose what to spray under Next layer, or a layer of paint, then draw.");
      this.ladder?.forget();
      return this.page.draw();
    }
    const values = { points: JSON.stringify(strokes.map((one) => one.map(rounded))) };
    if (this.tool === "mark") Object.assign(values, {
      tool: this.marker,
      size_mm: `${this.size} mm`
    });
    if (source) {
      values.source = source;
      byId("add-source").value = "";
    }
    this.sprayed = Boolean(this.ladder?.base);
    this.page.change(source ? "/strokes" : `/layers/${layer}/strokes`, values);
  }

  enclose(strokes) {
    const layer = this.page.sheet().dataset.layer,
      points = strokes.flat().map(rounded);
    if (!layer) byId("said").textContent = _("Choose the layer that goes through it first.");
    else if (points.length > 2)
      this.page.change(`/layers/${layer}/outline`, { points: JSON.stringify(points) });
    this.page.draw();
  }

  // --- the hand on the picture; each says whether it was taken ---
  down(event) {
    if (this.tool === "turn" || !event.isPrimary) return this.tool !== "turn";
    const here = this.page.cell(event);
    if (this.tool === "place") {
      this.drag = held(this.page, this.lying, event);
      if (this.drag?.stroke !== undefined && byId("stroke")) byId("stroke").value = this.drag
        .stroke + 1;
    } else if (this.tool === "spray" && this.straight) {
      if (here) this.press(here);
    } else if (this.tool === "mark" && !this.drawn) this.set = here;
    else {
      this.airbrush.begin(event);
      this.stand();
    }
    this.page.draw(true);
    return true;
  }

  move(event) {
    if (this.airbrush.down) {
      for (const one of event.getCoalescedEvents?.() ?? [event]) this.airbrush.move(one);
      this.colour();
    } else if (this.set) this.set = this.page.cell(event) ?? this.set;
    else if (this.drag) this.drag.move(event);
    else return this.tool !== "turn";
    this.page.draw(true);
    return true;
  }

  up(event) {
    if (this.airbrush.down) {
      clearInterval(this.standing);
      this.airbrush.rest(event);
      this.colour();
      if (this.tool === "outline") this.enclose(this.airbrush.take());
      else this.keep(this.airbrush.take());
    } else if (this.set) this.stamp(this.set);
    else if (this.drag) this.drop();
    else return this.tool !== "turn";
    return true;
  }

  stamp(cell) {
    this.set = null;
    if (this.ladder?.base) this.touch(this.ladder.stamp(cell.u, cell.v, this.size));
    this.keep([
      [
        [cell.u, cell.v, 1]
      ]
    ]);
  }

  // Two presses are the ends of a straight stroke.
  press(cell) {
    if (!this.from) {
      this.from = cell;
      return;
    }
    const seconds = Math.max(this.mm(this.from, cell) / 40, 0.03),
      stroke = [
        [this.from.u, this.from.v, 0],
        [cell.u, cell.v, seconds]
      ];
    this.from = null;
    if (this.ladder?.base) this.touch(this.ladder.draw(...stroke));
    this.keep([stroke]);
  }

  // --- what lies there is moved ---
  async look_up() {
    const sheet = this.page.sheet(),
      layer = sheet.dataset.layer;
    if (this.tool !== "place" || !layer) { this.lying = null; return; }
    const wanted = `${sheet.dataset.revision}:${layer}`;
    if (this.lying?.of === wanted) return;
    const found = await lies(this.page.own, layer);
    if (`${this.page.sheet().dataset.revision}:${layer}` !== wanted) return;
    this.lying = found && Object.assign(found, { of: wanted });
    this.page.canvas.dataset.lies = wanted;
    this.page.draw();
  }

  drop() {
    const { drag } = this, layer = this.page.sheet().dataset.layer;
    this.drag = null;
    const [path, values] = dragged(drag) ?? [];
    if (path) this.page.change(`/layers/${layer}${path}`, values);
    else this.page.draw();
  }

  // Everything that is drawn or dragged can be done by keys: arrows move the cross or what lies there, Enter sets.
  key(event) {
    if (this.tool === "turn") return false;
    const step = event.shiftKey ? FAR_MM : STEP_MM,
      way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } [event
        .key
      ];
    if (this.tool === "place") {
      const layer = this.page.sheet().dataset.layer,
        turn = { ",": -5, ".": 5 } [event.key],
        times = { PageUp: 1.05, PageDown: 1 / 1.05 } [event.key];
      if (!layer || (!way && !turn && !times)) return false;
      const [along, down] = (way ?? [0, 0]).map((one) => one * step);
      if (this.lying?.outlines.length) this.page.change(`/layers/${layer}/place`, {
        along_mm: along,
        down_mm: down,
        turn_deg: turn ?? 0,
        times: times ?? 1
      });
      else if (way && byId("stroke")) this.page.change(`/layers/${layer}/strokes/change`, {
        do: "change",
        stroke: byId("stroke").value,
        along_mm: `${along} mm`,
        around_mm: `${down} mm`
      });
      return true;
    }
    if (way) {
      this.page.nudge(way[0] * step, way[1] * step);
      return true;
    }
    if (event.key !== "Enter" && event.key !== " ") return false;
    const cell = this.page.mark ?? this.page.middle();
    if (!cell) return false;
    this.page.mark = cell;
    if (this.tool === "mark" && !this.drawn) this.stamp(cell);
    else if (this.tool !== "outline") this.press(cell);
    this.page.draw();
    return true;
  }

  /**
   * What is under way, over the bait.
   * @param {CanvasRenderingContext2D} context
   * @param {number} ratio px of the canvas for one of the picture
   */
  paint(context, ratio) {
    const bait = this.page.bait(),
      long = bait.skin.head.geometry.length_mm;
    if (this.airbrush.strokes.length && (!this.ladder?.base || this.tool === "outline"))
      drawnOver(context, bait, this.airbrush.strokes, {
        ratio,
        disc: this.tool === "outline" ? 0.4 : this.tool === "mark" ? this.size : this.page
          .sheet()
          .dataset.disc
      });
    const ring = (cell, mm) => {
      const [, y, z] = bait.place(cell.u, cell.v), [x, top] = bait.project(cell.u, y, z),
        radius = Math.max(3, mm / 2 / long * bait.at.scale * ratio);
      for (const [width, colour] of [
          [4, "#000"],
          [2, "#fff"]
        ]) {
        context.beginPath();
        context.arc(x * ratio, top * ratio, radius, 0, 2 * Math.PI);
        context.lineWidth = width;
        context.strokeStyle = colour;
        context.stroke();
      }
    };
    if (this.set) ring(this.set, this.size);
    if (this.from) ring(this.from, 2);
    if (this.tool === "place" && this.lying) this.lying.paint(context, bait, {
      ratio,
      drag: this.drag,
      chosen: Number(byId("stroke")?.value ?? 0) - 1
    });
  }
}

const rounded = ([u, v, s]) => [Number(u.toFixed(4)), Number(v.toFixed(4)), Number(s.toFixed(3))];

// Paints by how they would look where the bait was touched; what comes nearest to the photo stands first.
export const lookAround = (mark) => {
  let of = "";
  const ask = () => {
    const list = byId("looks-list"),
      cell = mark(),
      at = cell ? `?u=${cell.u.toFixed(3)}&v=${cell.v.toFixed(3)}` : "",
      wanted = `${byId("plan").dataset.revision}${at}`;
    if (!byId("looks").open || of === wanted) return;
    of = wanted;
    htmx.ajax("GET", list.dataset.ask + at, { target: "#looks-list", swap: "innerHTML" });
  };
  document.addEventListener("toggle", (event) => { if (event.target.id === "looks") ask(); },
    true);
  document.addEventListener("htmx:afterSettle", () => {
    const list = byId("looks-list"),
      far = [...list?.querySelectorAll("[data-far]") ?? []];
    far.sort((a, b) => a.dataset.far - b.dataset.far);
    if (far.some((one, k) => one !== list.querySelectorAll(".look")[k])) list.prepend(...far);
  });
  return ask;
};
