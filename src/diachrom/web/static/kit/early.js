// A press or a choice that comes before the page listens waits until it does: a hand on a slow tablet
// loses none.
(() => {
  const early = [];
  const keep = (event) => {
    const own = event.type === "click" ? event.target.closest("button") : event.target;
    const sends = event.type === "click" ?
      own && (own.hasAttribute("hx-post") || own.form?.hasAttribute("hx-post")) :
      own.closest("[hx-get], [hx-post]");
    if (!sends) return;
    if (event.type === "click") event.preventDefault();
    event.stopImmediatePropagation();
    early.push([own, event.type]);
  };
  for (const type of ["click", "change"]) document.addEventListener(type, keep, true);
  // Once all that waits for the page has heard of it.
  document.addEventListener("DOMContentLoaded", () => setTimeout(() => {
    for (const type of ["click", "change"]) document.removeEventListener(type, keep, true);
    for (const [own, type] of early)
      if (own.isConnected && type === "click") own.click();
      else if (own.isConnected) own.dispatchEvent(new Event(type, { bubbles: true }));
  }));
})();
// Day or booth as the system has it, until somebody chooses; told to the server for the pages to come.
(() => {
  const root = document.documentElement;
  const dark = matchMedia("(prefers-color-scheme: dark)");
  const follow = () => {
    if (!("follows" in root.dataset)) return;
    document.cookie =
      `look=${dark.matches ? "dark" : "light"}; path=/; max-age=31536000; samesite=strict`;
    const theme = dark.matches ? "booth" : "day";
    if (root.dataset.theme === theme) return;
    Object.assign(root.dataset, { theme, bsTheme: dark.matches ? "dark" : "light" });
    document.querySelector("meta[name=color-scheme]").content = root.dataset.bsTheme;
  };
  follow();
  dark.addEventListener("change", follow);
})();
