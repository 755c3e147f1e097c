// A press that comes before the page listens waits until it does: a hand on a slow tablet loses
// none.
(() => {
  const pressed = [];
  const keep = (event) => {
    const button = event.target.closest("button");
    if (!button || !(button.hasAttribute("hx-post") || button.form?.hasAttribute("hx-post")))
      return;
    event.preventDefault();
    event.stopImmediatePropagation();
    pressed.push(button);
  };
  document.addEventListener("click", keep, true);
  // Once all that waits for the page has heard of it.
  document.addEventListener("DOMContentLoaded", () => setTimeout(() => {
    document.removeEventListener("click", keep, true);
    for (const button of pressed)
      if (button.isConnected) button.click();
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
