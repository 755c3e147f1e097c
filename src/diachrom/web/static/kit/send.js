// Every press carries an id of its own. One that gets no answer is sent again under the same id, in
// the order of the hand, until it is answered: so it is counted once, however often it is sent. It is
// kept before it is sent, and what an earlier page left waiting goes first.
import {
  before,
  drop,
  every,
  forget,
  keep,
  keeps,
  put,
  queue as waiting,
  take
} from "./waiting.js";
import { _ } from "./words.js";
const TAP = "X-Tap";
const [SOON, LATE] = [700, 5000]; // ms between two tries
const PATIENCE_MS = 15_000; // for an answer to a press
const MOST = 200; // presses of one request
const MOST_KEPT = 12_000_000; // bytes of files: a whole bench stays where it is
const LATER = [503, 507]; // busy, no room: it is asked again
const AT_BENCH = /^\/bench\/(\d+)\/happen$/;
const sent = new Map(); // by id: pressed on this page, and not answered yet
let wait = SOON;
let sending = false;
let told = ""; // what was said of those that wait
let stale = false; // an answer was lost, and what it said is not on the page
let later = 0;

const id = () => [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16)
  .padStart(2, "0")).join("");
const say = (text) => {
  const said = document.getElementById("said");
  if (said) said.textContent = text;
};
const ago = (press) => Math.max(0, press.began_ms === performance.timeOrigin ?
  performance.now() - press.since_ms : Date.now() - press.at_ms) / 1000;

// How many wait is seen on every page, and what could not be counted until somebody has read it.
const show = async () => {
  const bar = document.getElementById("presses");
  if (!bar) return;
  const refused = await every("refused");
  bar.hidden = !waiting.length && !refused.length;
  document.getElementById("presses-count").textContent = waiting.length ? _(
    "Presses that wait: {count}", { count: waiting.length }) : "";
  document.getElementById("presses-kept").textContent = waiting.length && !await keeps() ? _(
    "This browser keeps nothing: leave this page open until they are counted.") : "";
  const list = document.getElementById("presses-refused");
  list.replaceChildren(...refused.map((one) => {
    const row = document.createElement("li");
    row.textContent = _("Not counted: {press}. {why}", {
      press: one.words,
      why: one
        .why
    });
    return row;
  }));
  document.getElementById("presses-read").hidden = !refused.length;
};
const tell = () => {
  told = _(
    "Diachrom does not answer: is it still running? Presses that wait: {count}. They will be counted once when it does.", {
      count: waiting
        .length
    }
  );
  say(told);
  show();
};
const changed = () => document.dispatchEvent(new Event("presses-wait"));
const soon = () => {
  clearTimeout(later);
  later = setTimeout(again, wait);
};

const refuse = (press, why) => put("refused", {
  order: press.order ?? Date.now(),
  words: press.words || press.path,
  why: new DOMParser().parseFromString(why, "text/html").body.textContent.trim()
});
const goesAway = async (answer) => {
  if (answer.status !== 401) return false;
  if (answer.headers.get("X-Forget")) await forget();
  location.assign("/sign-in");
  return true;
};
const over = async (presses) => {
  for (const press of presses) {
    waiting.splice(waiting.indexOf(press), 1);
    await drop(press);
  }
  wait = SOON;
  changed();
};

// Those of a session go together, and its page is asked for once.
const sendTogether = async (number) => {
  const own = [];
  for (const press of waiting) {
    const same = press.path === waiting[0].path && press.session_began === waiting[0]
      .session_began;
    if (!same || own.length === MOST) break;
    own.push(press);
  }
  const presses = own.map((press) => ({
    tap: press.tap,
    ago: ago(press),
    values: Object.fromEntries(press.values)
  }));
  const answer = await fetch(`/bench/${number}/presses`, {
    method: "POST",
    headers: { "Content-Type": "application/json", "HX-Request": "true" },
    body: JSON.stringify({ began: own[0].session_began, presses }),
    signal: AbortSignal.timeout(PATIENCE_MS)
  });
  if (await goesAway(answer)) return;
  if (LATER.includes(answer.status)) throw new Error("later");
  if (answer.ok)
    for (const one of (await answer.json()).refused)
      await refuse(own.find((press) => press.tap === one.tap), one.said);
  else
    for (const press of own) await refuse(press, await answer.clone().text());
  await over(own);
  const bench = document.getElementById("bench");
  if (!waiting.length && bench?.dataset.session === number)
    await htmx.ajax("GET", `/bench/${number}`, { target: "#bench", swap: "morph:outerHTML" });
};
const sendAlone = async (press) => {
  const body = new FormData();
  for (const [name, value] of press.values) body.append(name, value);
  const answer = await fetch(press.path, {
    method: press.verb.toUpperCase(),
    headers: {
      [TAP]: press.tap,
      "HX-Request": "true",
      "X-Ago": String(ago(press)),
      "X-Began": press.session_began ?? ""
    },
    body: press.verb === "delete" ? undefined : body,
    signal: AbortSignal.timeout(PATIENCE_MS)
  });
  if (await goesAway(answer)) return;
  if (LATER.includes(answer.status)) throw new Error("later");
  if (answer.status >= 400) await refuse(press, await answer.text());
  await over([press]);
  const on = answer.headers.get("HX-Redirect");
  if (on && !waiting.length) location.assign(on);
  else stale ||= answer.status < 400 && press.page === location.pathname;
};
const again = async () => {
  if (sending || !waiting.length) return;
  sending = true;
  const [press] = waiting;
  const { verb, path, values, elt, target, swap, tap } = press;
  const session = AT_BENCH.exec(path)?.[1];
  try {
    if (session) await sendTogether(session);
    else if (!elt) await sendAlone(press);
    else {
      const form = new FormData();
      for (const [name, value] of values) form.append(name, value);
      await htmx.ajax(verb.toUpperCase(), path, {
        source: elt.isConnected ? elt : document.getElementById(elt.id) ?? document.body,
        target,
        swap,
        values: form,
        headers: {
          [TAP]: tap,
          "X-Ago": String(ago(press)),
          "X-Began": press.session_began ?? ""
        }
      });
      await over([press]);
    }
    if (!waiting.length && stale) location.reload();
    // an answer's own words stay
    else if (!waiting.length && document.getElementById("said")?.textContent === told) say("");
  } catch {
    wait = Math.min(LATE, 2 * wait);
  }
  sending = false;
  if (waiting.length) {
    tell();
    soon();
  } else show();
};

const note = (asked) => {
  const given = asked.formData ?? new Map(Object.entries(asked.parameters));
  const values = [...given.entries()];
  const press = {
    tap: asked.headers[TAP],
    verb: asked.verb,
    path: asked.path,
    values,
    // a page may say it better than the button does
    words: asked.elt.words ?? asked.elt.querySelector?.("button")?.textContent.trim(),
    page: location.pathname,
    session_began: document.getElementById("bench")?.dataset.began,
    at_ms: Date.now(),
    since_ms: performance.now(),
    began_ms: performance.timeOrigin,
    elt: asked.elt,
    target: asked.target?.id ? `#${asked.target.id}` : asked.target
  };
  sent.set(press.tap, press);
  const size = values.reduce((whole, [, value]) => whole + (value.size ?? 0), 0);
  if (size < MOST_KEPT) keep(press);
  return press;
};
const waits = (press, swap) => {
  press.swap = swap;
  sent.delete(press.tap);
  waiting.push(press);
  tell();
  changed();
  if (waiting.length === 1) soon();
};

document.addEventListener("htmx:configRequest", (event) => {
  const asked = event.detail;
  if (asked.verb === "get") return;
  if (asked.headers[TAP]) return; // it is sent again
  asked.headers[TAP] = id();
  if (AT_BENCH.test(asked.path)) asked.timeout = PATIENCE_MS;
  const press = note(asked);
  if (!waiting.length) return;
  event.preventDefault(); // it waits its turn behind those before it
  waits(press, asked.elt.closest("[hx-swap]")?.getAttribute("hx-swap") ?? "morph:outerHTML");
});
// How a script wants its answer put into the page holds for what it asked for, not for the sentence
// of a refusal.
document.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.xhr.status >= 400) event
    .detail.swapOverride = "innerHTML";
});
document.addEventListener("htmx:beforeOnLoad", async (event) => {
  const { xhr } = event.detail;
  if (xhr.status === 401 && xhr.getResponseHeader("X-Forget")) {
    await forget();
    location.assign("/sign-in");
  }
});
document.addEventListener("htmx:afterRequest", (event) => {
  const { xhr, requestConfig } = event.detail;
  stale ||= xhr.getResponseHeader("X-Counted-Already") !== null;
  if (!xhr.status) return;
  const press = sent.get(requestConfig?.headers[TAP]);
  if (press) {
    sent.delete(press.tap);
    drop(press);
  }
  if (waiting.length) again(); // somebody answers
});
addEventListener("online", () => again());
addEventListener("beforeunload", (event) => {
  if (waiting.length) event.preventDefault();
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
const unanswered = (event) => {
  const { requestConfig: asked, etc } = event.detail;
  if (asked.verb === "get") {
    if (!waiting.length) say(
      _(
        "Diachrom does not answer: is it still running? Nothing that was said to be saved is lost."
      )
    );
    return;
  }
  const press = sent.get(asked.headers[TAP]);
  if (press) waits(press, etc.swapOverride);
};
document.addEventListener("htmx:sendError", unanswered);
document.addEventListener("htmx:timeout", unanswered);
document.addEventListener("click", async (event) => {
  if (!event.target.closest("#presses-read")) return;
  for (const one of await every("refused")) await take("refused", one.order);
  show();
});
// What an earlier page left is sent before anything of this one.
before.then((left) => {
  waiting.unshift(...left.filter((press) => press.began_ms !== performance.timeOrigin));
  show();
  if (waiting.length) {
    changed();
    again();
  }
});
