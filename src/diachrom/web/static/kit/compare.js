// Before and after over one picture: the slider's place is where the one ends and the other begins.
const placed = (input) => input.closest("[data-compare]").style.setProperty("--at",
  `${input.value}%`);
document.addEventListener("input", (event) => {
  if (event.target.matches(".compare-at")) placed(event.target);
});
// A browser that goes back keeps where it stood.
document.querySelectorAll(".compare-at").forEach(placed);
