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
