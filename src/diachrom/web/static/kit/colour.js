// Wide screens get the wide colours: each painted thing carries both, and the narrow one stands in
// the markup.
const wide = window.matchMedia("(color-gamut: p3)");
const widen = (root) => {
  if (!wide.matches) return;
  for (const painted of root.querySelectorAll("[data-p3]")) {
    painted.setAttribute(painted.tagName === "stop" ? "stop-color" : "fill", painted.dataset.p3);
  }
};
widen(document);
document.addEventListener("htmx:load", (event) => widen(event.target));
wide.addEventListener("change", () => wide.matches && widen(document));
