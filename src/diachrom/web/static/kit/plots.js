// Which plot is looked at: chosen once, kept while the page changes around it.
const SHOWN = "diachrom-plot";
const show = () => {
  const figures = [...document.querySelectorAll(".plots [data-plot]")];
  const wanted = sessionStorage.getItem(SHOWN) ?? "coats";
  const key = figures.some((one) => one.dataset.plot === wanted) ? wanted : figures[0]?.dataset
    .plot;
  for (const figure of figures) figure.hidden = figure.dataset.plot !== key;
  for (const button of document.querySelectorAll("[data-plot-choice]")) {
    button.setAttribute("aria-pressed", String(button.dataset.plotChoice === key));
  }
};
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-plot-choice]");
  if (!button) return;
  sessionStorage.setItem(SHOWN, button.dataset.plotChoice);
  show();
});
document.addEventListener("htmx:afterSettle", show);
show();
