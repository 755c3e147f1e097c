// Beside the bait, of the layer that is worked on: from where it is sprayed, as an arrow around the bait that the hand
// turns, its coats and its distance.

const ANGLES = {
    above: 0,
    shoulder: 45,
    side: 90,
    low: 135,
    below: 180
  }, // of the bait seen from its nose
  ORDER = ["around", "above", "shoulder", "side", "low", "below", "behind", "front"],
  MIDDLE = 12; // px of the dial within which a press is all around
const byId = (id) => document.getElementById(id);

/**
 * Show and listen to them.
 * @param {{sheet: function(): HTMLElement, change: function(string, object)}} page
 * @returns {function()} what is called when a layer has come
 */
export const atTheBait = ({ sheet, change }) => {
  const box = byId("at-bait"),
    dial = byId("from-where"),
    set = (values) => change(`/layers/${sheet().dataset.layer}`, values);
  let origin = "around",
    turning = false;
  const words = (key) => [...byId("edit-origin")?.options ?? []].find((one) => one.value === key)
    ?.textContent ?? "";
  const show = () => {
    for (const arrow of dial.querySelectorAll("[data-from]"))
      arrow.toggleAttribute("hidden", arrow.dataset.from !== (origin in ANGLES ? "side" :
        origin));
    const left = dial.querySelector("[data-from=side]"),
      angle = ANGLES[origin] ?? 0;
    left.children[0].setAttribute("transform", `rotate(${angle} 40 40)`);
    left.children[1].setAttribute("transform", `rotate(${-angle} 40 40)`);
    dial.setAttribute("aria-valuenow", String(ORDER.indexOf(origin)));
    dial.setAttribute("aria-valuetext", words(origin));
    byId("from-words").textContent = words(origin);
  };
  const arrived = () => {
    const { origin: from, coats, distance } = sheet().dataset;
    box.hidden = !from;
    if (!from) return;
    origin = from;
    for (const [id, value] of [
        ["at-coats", coats],
        ["at-distance", distance]
      ])
      if (byId(id) !== document.activeElement) byId(id).value = value;
    show();
  };
  const aim = (event) => {
    const place = dial.getBoundingClientRect(),
      x = (event.clientX - place.left) / place.width * 80 - 40,
      y = (event.clientY - place.top) / place.height * 80 - 40;
    if (Math.hypot(x, y) < MIDDLE) origin = "around";
    else {
      const angle = Math.abs(Math.atan2(x, -y) * 180 / Math.PI);
      origin = Object.keys(ANGLES).sort((a, b) => Math.abs(ANGLES[a] - angle) - Math.abs(ANGLES[
        b] - angle))[0];
    }
    show();
  };
  dial.addEventListener("pointerdown", (event) => {
    dial.setPointerCapture(event.pointerId);
    turning = true;
    aim(event);
  });
  dial.addEventListener("pointermove", (event) => { if (turning) aim(event); });
  dial.addEventListener("pointerup", () => {
    if (turning && origin !== sheet().dataset.origin) set({ origin });
    turning = false;
  });
  dial.addEventListener("keydown", (event) => {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 } [event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    origin = ORDER[(ORDER.indexOf(origin) + by + ORDER.length) % ORDER.length];
    show();
    set({ origin });
  });
  box.addEventListener("change", (event) => set({
    [event.target.name]: event.target.value
  }));
  arrived();
  return arrived;
};
