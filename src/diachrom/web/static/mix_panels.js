// A full page on a small screen: its parts take turns, chosen by a press, and stay chosen while
// answers arrive.
const LEFT = ["drops", "target", "mind", "recipe"];
const root = document.documentElement;
const kept = (side) => sessionStorage.getItem(`diachrom-${side}`);
const sides = { panel: "drops", left: "drops", right: "words" };

const show = () => {
  // Wide: the two halves choose each for itself, and only where room is short; narrow: one at a
  // time.
  const short = root.dataset.theme === "booth" || innerWidth < 1120 || innerHeight < 790;
  root.dataset.tight = innerWidth < 1000 ? "narrow" : short ? "wide" : "";
  const there = [...document.querySelectorAll("[data-panel-choice]")].map((one) => one.dataset
    .panelChoice);
  for (const side of Object.keys(sides)) root.dataset[side] = there.includes(kept(side)) ? kept(
    side) : sides[side];
  const chosen = root.dataset.tight === "narrow" ? [root.dataset.panel] : [root.dataset.left, root
    .dataset.right
  ];
  for (const button of document.querySelectorAll("[data-panel-choice]")) {
    button.setAttribute("aria-pressed", String(chosen.includes(button.dataset.panelChoice)));
  }
};
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-panel-choice]");
  if (!button) return;
  const key = button.dataset.panelChoice;
  sessionStorage.setItem("diachrom-panel", key);
  sessionStorage.setItem(LEFT.includes(key) ? "diachrom-left" : "diachrom-right", key);
  show();
});
document.addEventListener("htmx:afterSettle", show);
addEventListener("resize", show);
show();
