// One box for everything: a slash opens it, or a slash more in a page's own empty box.
const dialog = document.getElementById("search");
const box = document.getElementById("search-box");

/** Open the box; what was looked for last is there, to be typed over. */
export const openSearch = () => {
  dialog.showModal();
  box.focus();
  box.select();
};
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-search]")) openSearch();
  if (event.target === dialog) dialog.close();
});
document.addEventListener("keydown", (event) => {
  const own = event.target;
  if (event.key !== "/" || !own.matches?.("#find, #add") || own.value) return;
  event.preventDefault();
  openSearch();
});
// Arrow keys walk what was found; Enter opens the first of it.
dialog.addEventListener("keydown", (event) => {
  const links = [...dialog.querySelectorAll("#search-found a")];
  const at = links.indexOf(document.activeElement);
  if (event.key === "ArrowDown" || event.key === "ArrowUp") {
    event.preventDefault();
    const next = at + (event.key === "ArrowDown" ? 1 : -1);
    (links[next] ?? (next < 0 ? box : links.at(-1)))?.focus();
  } else if (event.key === "Enter" && document.activeElement === box) {
    event.preventDefault();
    links[0]?.click();
  }
});
