// The timeline: a block is dragged along its lane, or onto another; the arrow keys move it by a
// quarter of an hour.
// min; of the drawing; px before a press is a drag
const QUARTER = 15,
  EDGE = 4,
  WIDE = 1000,
  FEW = 4;
let held = null;

const send = (block, at) => {
  const schedule = document.getElementById("schedule");
  htmx.ajax("POST", `${schedule.dataset.own}/drag`, {
    source: schedule,
    target: "#schedule",
    swap: "morph:outerHTML",
    values: { block, not_before: at.toISOString() }
  });
};
// drawing units a minute
const scale = () => (WIDE - 2 * EDGE) / Number(document.querySelector(".lanes").dataset.minutes);
const moved = (start, minutes) => new Date(new Date(start).getTime() + minutes * 60000);
const inside = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg
  .getScreenCTM().inverse()).x;

document.addEventListener("pointerdown", (event) => {
  const block = event.target.closest?.("[data-block]");
  if (!block || event.button !== 0) return;
  const svg = block.ownerSVGElement;
  held = {
    block,
    svg,
    x: inside(svg, event),
    from: [event.clientX, event.clientY],
    rect: block
      .querySelector("rect"),
    dragged: false
  };
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  if (!held.dragged && Math.hypot(event.clientX - held.from[0], event.clientY - held.from[1]) <
    FEW) return;
  if (!held.dragged) {
    held.dragged = true;
    held.block.classList.add("held");
  }
  held.block.setAttribute("transform",
    `translate(${(inside(held.svg, event) - held.x).toFixed(1)} 0)`);
  event.preventDefault();
});
const drop = (event) => {
  if (!held) return;
  const { block, svg, x, rect, dragged } = held;
  held = null;
  block.classList.remove("held");
  block.removeAttribute("transform");
  if (!dragged || event.type === "pointercancel") return;
  const lane = document.elementsFromPoint(event.clientX, event.clientY).map((one) => one.closest?.
    (".lane svg")).find(Boolean) ?? svg;
  const begins = Number(rect.getAttribute("x")) + inside(lane, event) - x - EDGE;
  send(block.dataset.block, moved(lane.dataset.start, Math.round(begins / scale())));
};
document.addEventListener("pointerup", drop);
document.addEventListener("pointercancel", drop);
document.addEventListener("keydown", (event) => {
  const block = event.target.closest?.("[data-block]"),
    way = { ArrowRight: QUARTER, ArrowLeft: -QUARTER } [event.key];
  if (!block || !way) return;
  event.preventDefault();
  send(block.dataset.block, moved(block.dataset.start, way));
});
