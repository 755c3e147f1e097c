// Every press carries an id of its own. One that gets no answer is sent again under the same id, in
// the order of the
// hand, until it is answered: so it is counted once, however often it is sent.
import { _ } from "./words.js";
const TAP = "X-Tap";
const [SOON, LATE] = [700, 5000]; // ms between two tries
const waiting = [];
let wait = SOON;
let sending = false;
let told = ""; // what was said of those that wait
let stale = false; // an answer was lost, and what it said is not on the page

const id = () => [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16)
  .padStart(2, "0")).join("");
const say = (text) => {
  const said = document.getElementById("said");
  if (said) said.textContent = text;
};
const tell = () => {
  told =
    _(
      "Diachrom does not answer: is it still running? Presses that wait: {count}. They will be counted once when it does.", {
        count: waiting
          .length
      });
  say(told);
};

const again = async () => {
  if (sending || !waiting.length) return;
  sending = true;
  const { verb, path, values, elt, target, swap, tap } = waiting[0];
  const source = elt.isConnected ? elt : document.getElementById(elt.id) ?? document.body;
  try {
    await htmx.ajax(verb.toUpperCase(), path, {
      source,
      target,
      swap,
      values,
      headers: {
        [TAP]: tap
      }
    });
    waiting.shift();
    wait = SOON;
    if (!waiting.length && stale) location.reload();
    // an answer's own words stay
    else if (!waiting.length && document.getElementById("said")?.textContent === told) say("");
  } catch {
    wait = Math.min(LATE, 2 * wait);
  }
  sending = false;
  if (waiting.length) {
    tell();
    setTimeout(again, wait);
  }
};

const keep = (asked, swap) => {
  const target = asked.target?.id ? `#${asked.target.id}` : asked.target;
  waiting.push({
    verb: asked.verb,
    path: asked.path,
    values: asked.formData ?? asked.parameters,
    elt: asked.elt,
    target,
    swap,
    tap: asked.headers[TAP]
  });
  tell();
  if (waiting.length === 1) setTimeout(again, wait);
};

document.addEventListener("htmx:configRequest", (event) => {
  const asked = event.detail;
  if (asked.verb === "get") return;
  const isAgain = Boolean(asked.headers[TAP]);
  asked.headers[TAP] ??= id();
  if (waiting.length && !isAgain) { // it waits its turn behind those before it
    event.preventDefault();
    keep(asked, asked.elt.closest("[hx-swap]")?.getAttribute("hx-swap") ?? "morph:outerHTML");
  }
});
// How a script wants its answer put into the page holds for what it asked for, not for the sentence
// of a refusal.
document.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.xhr.status >= 400) event
    .detail.swapOverride = "innerHTML";
});
document.addEventListener("htmx:afterRequest", (event) => {
  stale ||= event.detail.xhr
    .getResponseHeader("X-Counted-Already") !== null;
});
// What was pressed stays on the page until it is answered, whatever comes in between: a press that
// waits its turn is
// not sent when its button is gone.
const pressed = new Set();
document.addEventListener("submit", (event) => pressed.add(event.target), true);
// its own answer may take it away
for (const over of ["htmx:beforeOnLoad", "htmx:afterRequest"])
  document.addEventListener(over, (event) => pressed.delete(event.detail.elt));
Idiomorph.defaults.callbacks.beforeNodeRemoved = (node) => ![...pressed].some((one) => node
  .contains(one));

// What was typed into a search before the page listened is looked for now.
document.addEventListener("htmx:load", (event) => {
  if (event.target !== document.body) return;
  for (const field of document.querySelectorAll("input[type=search]"))
    if (field.value !== field.defaultValue) field.dispatchEvent(new Event(
      "input", { bubbles: true }));
});
document.addEventListener("htmx:sendError", (event) => {
  const { requestConfig: asked, etc } = event.detail;
  if (asked.verb === "get") {
    if (!waiting.length) say(
      _(
        "Diachrom does not answer: is it still running? Nothing that was said to be saved is lost."
      )
    );
    return;
  }
  if (waiting.some((one) => one.tap === asked.headers[TAP])) return;
  keep(asked, etc.swapOverride);
});
