// What a screen's colours are made of, for the scripts that pick them.
/**
 * Linear light of an encoded value.
 * @param {number} value of a channel, 0 to 1
 * @returns {number} 0 to 1
 */
export const linear = (value) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) **
  2.4);
const encoded = (value) => (value <= 0.0031308 ? 12.92 * value : 1.055 * value ** (1 / 2.4) -
  0.055);
/**
 * Encoded bytes of linear light; what the screen cannot show is cut off.
 * @param {number[]} channels red, green, blue, 0 to 1
 * @returns {number[]} 0 to 255 each
 */
export const bytes = (channels) => channels.map((one) => Math.round(255 * encoded(Math.min(Math.max(
  one, 0), 1))));
/**
 * The colour as a style has it.
 * @param {number[]} channels linear red, green, blue, 0 to 1
 * @returns {string} "#rrggbb"
 */
export const hex = (channels) =>
  `#${bytes(channels).map((one) => one.toString(16).padStart(2, "0")).join("")}`;
/**
 * A mark that is seen on every colour.
 * @param {CanvasRenderingContext2D} pen
 * @param {number} x px
 * @param {number} y px
 * @param {number} radius px
 */
export const ring = (pen, x, y, radius) => {
  for (const [width, colour] of [
      [5, "#fff"],
      [2, "#000"]
    ]) {
    pen.beginPath();
    pen.arc(x, y, radius, 0, 2 * Math.PI);
    pen.lineWidth = width;
    pen.strokeStyle = colour;
    pen.stroke();
  }
};
