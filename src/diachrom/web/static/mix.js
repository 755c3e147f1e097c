// The Mix page's hands: pouring drops as fast as they are pressed, picking a bottle, choosing from
// what was found.
import { _ } from "./kit/words.js";
const mix = () => document.getElementById("mix");
const rows = () => [...document.querySelectorAll(".row-bottle")];
const picked = () => rows().find((row) => row.classList.contains("picked"));
let pickedBottle = null;
// What is being typed, and what was found for it, is not overwritten by an answer to something
// else.
Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => {
  if (old.id === "next") return askAgain(old, fresh);
  // it comes with the answer to what the next drop would do
  if (old.id === "next-path") return false;
  return old.id !== "found" && !(old === document.activeElement && old.matches(
    "input, textarea") && old.value !== old.defaultValue);
};

// What the next drop would do is asked for after the hand has rested, and stays until the new
// answer is there.
let asking = 0;
const ask = (next) =>
  // said below
  htmx.ajax("GET", next.dataset.ask, { source: next, target: "#next", swap: "innerHTML" }).catch(
    () => {});
const askAgain = (next, fresh) => {
  if (next.dataset.ask !== fresh.dataset?.ask) {
    next.dataset.ask = fresh.dataset.ask;
    clearTimeout(asking);
    asking = setTimeout(() => ask(next), 150);
  }
  return false;
};
const first = document.getElementById("next");
if (first) ask(first);

const show = (row) => {
  for (const other of rows()) other.classList.toggle("picked", other === row);
  row?.scrollIntoView({ block: "nearest" });
};
const pick = (row) => {
  if (!row) return;
  pickedBottle = row.dataset.bottle;
  show(row);
};
// A bottle that was just taken may not be there yet: it stays the one that is wanted.
const pickAgain = () => show(rows().find((row) => row.dataset.bottle === pickedBottle) ?? rows().at(
  -1));

// Every action waits its turn behind the ones before it (hx-sync on #content), in the order of the
// hand.
const say = (text) => { document.getElementById("said").textContent = text; };
// kit/send.js sends it again
const send = (path, values) => htmx.ajax("POST", path, {
  source: mix(),
  target: "#mix",
  swap: "morph:outerHTML",
  values
}).catch(() => {});

// Drops that were pressed and not yet answered, by bottle: shown on top of what an answer says.
const falling = new Map();
const fall = (bottle, drops) => falling.set(bottle, (falling.get(bottle) ?? 0) + drops);
const pour = (row, drops) => {
  const count = row.querySelector(".count");
  count.value = Math.max(0, Number(count.value || 0) + drops);
  fall(row.dataset.bottle, drops);
  send("/mix/pour", { bottle: row.dataset.bottle, drops });
};
document.addEventListener("htmx:beforeSwap", (event) => {
  const asked = event.detail.requestConfig;
  if (asked.path === "/mix/pour") fall(String(asked.parameters.bottle), -Number(asked.parameters
    .drops));
  // A refused number goes back to what is in the cup.
  if (event.detail.xhr.status >= 400)
    for (const count of document.querySelectorAll(".count")) count.value = count.defaultValue;
});
const showFalling = () => {
  for (const [bottle, drops] of falling) {
    const count = document.getElementById(`count-${bottle}`);
    if (count && drops) count.value = Math.max(0, Number(count.value) + drops);
  }
};

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-pour]");
  if (button) {
    event.preventDefault();
    const row = button.closest(".row-bottle");
    pick(row);
    pour(row, Number(button.dataset.pour));
    return;
  }
  const taken = event.target.closest("[data-take]");
  if (taken) {
    pickedBottle = taken.dataset.take;
    document.getElementById("add").value = "";
    if (event.detail) document.getElementById("add").blur(); // keys go on to the next bottle
    closeFound();
    send("/mix/add", { bottle: taken.dataset.take });
  }
  const row = event.target.closest(".row-bottle");
  if (row && !event.target.closest("button:not([data-pick])")) pick(row);
  if (!event.target.closest(".add")) closeFound();
});

// Digits typed within a moment of each other make one number.
let digits = "";
let digitsTimer = 0;
const digit = (key) => {
  const row = picked();
  if (!row) return;
  digits = (digits + key).slice(0, 3);
  row.querySelector(".count").value = Number(digits);
  clearTimeout(digitsTimer);
  digitsTimer = setTimeout(() => {
    const drops = digits;
    digits = "";
    send("/mix/drops", { bottle: row.dataset.bottle, drops });
  }, 550);
};

// A bottle of which one drop more would lead away from the target is marked before it falls.
const markSpoiling = () => {
  const spoiling = (document.querySelector("[data-spoiling]")?.dataset.spoiling ?? "").split(" ");
  for (const row of rows()) {
    const more = row.querySelector('[data-pour="1"]');
    const spoils = spoiling.includes(row.dataset.bottle);
    more.classList.toggle("spoils", spoils);
    more.title = spoils ? _("One drop more leads away from the target") : "";
  }
};

const step = (by) => {
  const all = rows();
  if (!all.length) return;
  const at = all.indexOf(picked());
  pick(all[Math.min(all.length - 1, Math.max(0, at + by))]);
};

let asked = false; // for a name, to save by it
const named = () => document.getElementById("name").value.trim();
const save = () => {
  if (named()) return send("/mix/save");
  say(_("Give the recipe a name, then press Enter: it is saved."));
  asked = true;
  document.getElementById("name").focus();
};
document.addEventListener("submit", (event) => {
  if (!event.target.matches('[action="/mix/save"]') || named()) return;
  event.preventDefault();
  event.stopPropagation();
  save();
}, true);
const nextSurface = () => JSON.parse(document.getElementById("clear").getAttribute("hx-vals"));
const keys = {
  ArrowUp: () => step(-1),
  ArrowDown: () => step(1),
  "+": () => picked() && pour(picked(), 1),
  "-": () => picked() && pour(picked(), -1),
  u: () => send("/mix/undo"),
  r: () => send("/mix/redo"),
  c: () => send("/mix/spray", nextSurface()),
  s: save,
  n: () => document.querySelector(".next-help")?.focus(),
};
document.addEventListener("key", (event) => {
  if (/^[0-9]$/.test(event.detail)) {
    digit(event.detail);
    event.preventDefault();
  } else if (Object.hasOwn(keys, event.detail)) {
    keys[event.detail]
      ();
    event.preventDefault();
  }
});

// What another device pours is seen here while this hand rests.
const FOLLOWED_MS = 3000;
const rests = () => !document.hidden && !digits && ![...falling.values()].some(Boolean) &&
  !document.querySelector(".htmx-request") && !found().length && !document.activeElement?.closest(
    "#mix :is(input, textarea, select)");
setInterval(async () => {
  const seen = mix().dataset.revision;
  const isAsItWas = () => rests() && mix().dataset.revision === seen;
  if (!rests()) return;
  try {
    const now = await fetch("/mix/revision");
    if (!now.ok || await now.text() === seen || !isAsItWas()) return;
    const answer = await fetch("/mix", { headers: { "HX-Request": "true" } });
    const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
    if (!answer.ok || !isAsItWas()) return;
    for (const id of ["mix", "rail-cup"]) {
      const part = document.getElementById(id);
      Idiomorph.morph(part, fresh.getElementById(id), { morphStyle: "outerHTML" });
      htmx.process(document.getElementById(id));
    }
    document.dispatchEvent(new CustomEvent("htmx:afterSettle", { detail: { elt: mix() } }));
  } catch { /* it is asked again */ }
}, FOLLOWED_MS);

// Enter in a field says what leaving it says.
document.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && event.target.matches("#name, .count")) {
    event.preventDefault();
    const saves = asked && event.target.id === "name" && named();
    if (saves) {
      asked = false;
      document.addEventListener("htmx:afterSettle", () => send("/mix/save"), { once: true });
    }
    event.target.blur();
  }
});

// The bottles found: arrow keys walk them, Enter takes one.
const found = () => [...document.querySelectorAll("#found .found-bottle")];
const closeFound = () => {
  const list = document.getElementById("found");
  if (list) list.replaceChildren();
  document.getElementById("add")?.setAttribute("aria-expanded", "false");
};
const select = (option) => {
  for (const other of found()) other.setAttribute("aria-selected", String(other === option));
  option?.scrollIntoView({ block: "nearest" });
};
document.addEventListener("keydown", (event) => {
  if (event.target.id !== "add") return;
  const all = found();
  const at = all.findIndex((one) => one.getAttribute("aria-selected") === "true");
  if (event.key === "ArrowDown") select(all[Math.min(all.length - 1, at + 1)]);
  else if (event.key === "ArrowUp") select(all[Math.max(0, at - 1)]);
  else if (event.key === "Enter")(all[at] ?? all[0])?.click();
  else if (event.key === "Escape") {
    closeFound();
    if (!event.target.value) event.target.blur();
  } else return;
  event.preventDefault();
});

document.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id === "found") {
    document.getElementById("add").setAttribute("aria-expanded", String(found().length > 0));
    select(found()[0]);
    const box = document.getElementById("add").getBoundingClientRect();
    const [above, below] = [box.top - 12, innerHeight - box.bottom - 12];
    const upwards = below < 240 && above > below;
    event.target.classList.toggle("upwards", upwards);
    event.target.style.maxHeight = `${Math.max(120, upwards ? above : below)}px`;
  }
  if (event.target.id === "mix") {
    pickAgain();
    showFalling();
  }
  if (event.target.id === "mix" || event.target.id === "next") markSpoiling();
});
pickAgain();
