// Before and after over one picture: the slider's place is where the one ends and the other begins.
const placed = (input) => input.closest("[data-compare]").style.setProperty("--at",
  `${input.value}%`);
document.addEventListener("input", (event) => {
  if (event.target.matches(".compare-at")) placed(event.target);
});
// A browser that goes back keeps where it stood.
document.querySelectorAll(".compare-at").forEach(placed);

// Pictures that take work are asked for where somebody opens them.
const fetched = () => {
  for (const image of document.querySelectorAll("details[open] img[data-src]:not([src])"))
    image.src = image.dataset.src;
};
document.addEventListener("toggle", fetched, true);
document.addEventListener("htmx:afterSettle", fetched);
