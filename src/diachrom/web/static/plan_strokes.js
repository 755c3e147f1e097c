// The airbrush over the bait: where the hand goes while it is down, in places of the skin and seconds.

const SPEED_MM_S = 40, // of a straight stroke from press to press: the core's USUAL_MM_S
  LEAST = 0.03, // s that a tap lays
  PEN = 0.5, // of a pen's pressure at which it lays as a mouse does
  USUAL_DISC = 3; // mm

/** What is drawn between one press and the next. */
export class Airbrush {
  /**
   * @param {{cell: function(Event): {u: number, v: number}|null, mm: function(object, object): number}} bait which place of
   *   the skin lies under the hand, and how far it is from one to another
   */
  constructor({ cell, mm }) {
    Object.assign(this, { cell, mm, on: false, strokes: [], open: null, last: null });
  }

  begin(event) {
    this.strokes = [];
    this.open = null;
    this.shown = 0; // points of the last stroke that are on the picture
    this.down = true;
    // Seconds that paint has flowed, and when that was told last, ms.
    this.flowed = 0;
    this.at = event.timeStamp;
    this.opened = 1;
    const here = this.cell(event);
    if (event.shiftKey && this.last && here) {
      const seconds = Math.max(this.mm(this.last, here) / SPEED_MM_S, LEAST);
      this.strokes = [
        [
          [this.last.u, this.last.v, 0],
          [here.u, here.v, seconds]
        ]
      ];
      this.straight = true;
    } else this.move(event);
  }

  // Time runs on, whatever was queued meanwhile; a pen that is pressed harder opens the needle further.
  flow(now) {
    this.flowed += Math.max(now - this.at, 0) / 1000 * this.opened;
    this.at = Math.max(now, this.at);
    return this.flowed;
  }

  // A hand that leaves the bait lays nothing; where it comes back another stroke begins.
  move(event) {
    if (!this.down || this.straight) return;
    const here = this.cell(event),
      seconds = this.flow(event.timeStamp);
    if (event.pointerType === "pen" && event.pressure > 0) this.opened = event.pressure / PEN;
    if (!here) { this.open = null; return; }
    if (!this.open) {
      this.strokes.push(this.open = []);
      this.shown = 0;
    }
    this.open.push([here.u, here.v, seconds]);
    this.last = here;
  }

  /**
   * The hand stands: a dot grows.
   * @param {number} now ms
   * @returns {number[][]|null} from when to when it stood where, [u, v, seconds] each
   */
  stand(now) {
    if (!this.down || this.straight || !this.open) return null;
    const seconds = this.flow(now),
      last = this.open.at(-1),
      before = this.open.at(-2),
      from = [...last];
    if (before && before[0] === last[0] && before[1] === last[1]) last[2] = seconds;
    else this.open.push([last[0], last[1], seconds]);
    this.shown = this.open.length;
    return [from, this.open.at(-1)];
  }

  // The hand is lifted: what it laid while it stood.
  rest(event) {
    if (this.straight) {
      const [u, v] = this.strokes[0][1];
      this.last = { u, v };
    } else if (this.open) {
      const [u, v] = this.open.at(-1);
      this.open.push([u, v, Math.max(this.flow(event.timeStamp), this.open[0][2] + LEAST)]);
    }
  }

  /**
   * What was drawn is taken from it.
   * @returns {number[][][]} strokes of [u, v, seconds]
   */
  take() {
    const found = this.strokes;
    Object.assign(this, { strokes: [], open: null, down: false, straight: false });
    return found;
  }
}

/**
 * Where the hand went, until the picture has it.
 * @param {CanvasRenderingContext2D} context
 * @param {Body} bait standing
 * @param {number[][][]} strokes of [u, v, seconds]
 * @param {{ratio: number, disc: string|undefined}} how px of the canvas for one of the picture; mm that a stroke is wide
 */
export const drawnOver = (context, bait, strokes, { ratio, disc }) => {
  const { geometry } = bait.skin.head;
  const wide = Number(disc || USUAL_DISC) / geometry.length_mm * bait.at.scale * ratio;
  context.save();
  context.lineCap = context.lineJoin = "round";
  for (const [width, colour] of [
      [wide + 2, "rgb(0 0 0 / 0.35)"],
      [wide, "rgb(255 255 255 / 0.7)"]
    ]) {
    context.strokeStyle = colour;
    context.lineWidth = Math.max(2, width);
    context.beginPath();
    for (const stroke of strokes)
      for (const [k, [u, v]] of stroke.entries()) {
        const [, y, z] = bait.place(u, v), [x, top] = bait.project(u, y, z);
        if (k) context.lineTo(x * ratio, top * ratio);
        else context.moveTo(x * ratio, top * ratio);
      }
    context.stroke();
  }
  context.restore();
};
