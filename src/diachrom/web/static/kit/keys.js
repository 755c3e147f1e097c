import { openSearch } from "./search.js";
// Keys that work on every page. A page adds its own by listening to "key" on the document.
const help = document.getElementById("keys");
const more = document.querySelector(".rail-more");
const foot = document.getElementById("rail-foot");
let going = false;

// On a phone the rail's foot opens above it; a touch anywhere else closes it.
const open = (wanted) => {
  foot.classList.toggle("open", wanted);
  more.setAttribute("aria-expanded", String(wanted));
};
more.addEventListener("click", () => open(!foot.classList.contains("open")));
document.addEventListener("click", (event) => {
  if (!more.contains(event.target) && !foot.contains(event.target)) open(false);
  for (const one of document.querySelectorAll("details.more[open]"))
    if (!one.contains(event.target)) one.open = false;
});

const typing = (target) => target.closest(
  "input:not([type=radio]), textarea, select, dialog[open]") !== null;
const find = () => document.getElementById("add") ?? document.getElementById("find");

const go = (letter) => {
  const entry = document.querySelector(`.rail [data-letter="${CSS.escape(letter)}"]`);
  if (entry) entry.click();
  return entry !== null;
};

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "Escape" && typing(event.target)) return event.target.blur();
  if (event.key === "Escape") {
    open(false);
    for (const one of document.querySelectorAll("details.more[open]")) {
      one.open = false;
      one.querySelector("summary").focus();
    }
  }
  if (typing(event.target)) return;
  if (going) {
    going = false;
    if (go(event.key)) return event.preventDefault();
  }
  if (event.key === "g") {
    going = true;
    setTimeout(() => { going = false; }, 1500);
    return;
  }
  if (event.key === "?") return help.showModal();
  if (event.key === "/") {
    event.preventDefault();
    if (!find()) return openSearch();
    find().focus();
    find().select();
    return;
  }
  const button = document.querySelector(`[data-key="${CSS.escape(event.key)}"]:enabled`);
  if (button && !button.closest("[hidden]")) {
    event.preventDefault();
    button.click();
    return;
  }
  const asked = new CustomEvent("key", { detail: event.key, cancelable: true });
  if (!document.dispatchEvent(asked)) event.preventDefault();
});

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-keys-help]")) help.showModal();
  if (event.target.closest("[data-print]")) print();
});
