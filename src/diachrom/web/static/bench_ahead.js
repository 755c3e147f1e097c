// The steps to come as the server would show them, kept for when nobody answers: what is pressed then
// is drawn on them, and counted when somebody does.
import { every, get, put, queue, take } from "./kit/waiting.js";
import { _ } from "./kit/words.js";
const AGAIN_MS = 400;
const MOST_KEPT = 3; // sessions
const bench = () => document.getElementById("bench");
const session = () => bench()?.dataset.session;
let kept = null; // what is kept of this session
let asking = 0;
let known = 0; // as far as anything was answered

const isOurs = (press) => press.path.startsWith(`/bench/${session()}/`);
/** Whether presses of this session wait. */
export const waits = () => queue.some(isOurs);

/** How a session stands after one more press. */
const after = (state, press) => {
  const values = Object.fromEntries(press.values);
  const here = state.steps[state.position - state.first];
  if (press.path.endsWith("/end")) return { ...state, ended: true };
  if (!here) return state;
  const at = state.now + (press.at_ms - state.at_ms) / 1000;
  const isHere = !values.step || values.step === here.key;
  const fell = state.fallen[here.key] ?? {};
  switch (values.kind) {
    case "tap":
    case "untap": {
      if (!isHere) return state;
      const count = Math.max(0, (fell[values.bottle] ?? 0) + (values.kind === "tap" ? 1 : -1));
      return {
        ...state,
        fallen: { ...state.fallen, [here.key]: { ...fell, [values.bottle]: count } }
      };
    }
    case "agree":
      return { ...state, agreed: [...state.agreed, values.what] };
    case "back":
      return {
        ...state, position: Math.max(state.first, state.position - Number(values.value ||
          1))
      };
    case "timer-off":
      return { ...state, off: [...state.off, values.what] };
    case "next": {
      if (!isHere) return state;
      const [line, first, last] = here.baits;
      const isIdle = (one) => one.key === here.key || (one.of === "dries" && !here.is_weighed &&
        one.baits[0] === line && first <= one.baits[1] && one.baits[1] < one.baits[2] && one
        .baits[2] <= last);
      const off = [...state.off, ...[...state.timers, ...state.begun].filter(isIdle).map((one) =>
        one
        .key)];
      const begun = state.begun.filter((one) => !off.includes(one.key));
      if (here.dries_s > 0) begun.push({
        key: here.key,
        words: here.words,
        of: here.timer,
        baits: here.baits,
        began: at,
        ends: at + here.dries_s,
        closes: here.closes_s === null ? null : at + here.closes_s
      });
      return {
        ...state,
        position: state.position + 1,
        begun,
        off: off.filter((key) => !begun.some((one) => one.key === key))
      };
    }
    case "pause":
    case "resume":
      return state;
    default:
      return { ...state, told: [...state.told, press.words] };
  }
};

const drawDrops = (step, fell) => {
  for (const row of document.querySelectorAll(".bench-pours li")) {
    const count = fell[row.dataset.bottle] ?? 0;
    for (const [index, bead] of row.querySelectorAll("circle").entries()) {
      bead.setAttribute("class", index < count ? "bead" : "bead-clear bead-dashed");
      if (index < count) bead.setAttribute("fill", bead.dataset.fill);
      else bead.removeAttribute("fill");
    }
    const asked = step.pours[row.dataset.bottle] ?? 0;
    row.querySelector(".bench-count b").textContent = asked ? Math.max(0, asked - count) : count;
  }
};
const drawTimers = (state) => {
  const place = document.querySelector(".bench-timers");
  for (const one of place.querySelectorAll("[data-timer]"))
    if (state.off.includes(one.dataset.timer)) one.remove();
  for (const one of state.begun) {
    const row = document.createElement("div");
    row.className = "timer";
    Object.assign(row.dataset, {
      timer: one.key,
      of: one.of,
      began: one.began,
      ends: one.ends,
      ...(one.closes ? { closes: one.closes } : {})
    });
    for (const [name, tag] of [
        ["timer-bar", "span"],
        ["timer-left", "b"],
        ["timer-words", "span"]
      ]) {
      const part = document.createElement(tag);
      part.className = name;
      row.append(part);
    }
    row.lastChild.textContent = one.words;
    place.append(row);
  }
};
const drawTold = (told) => {
  if (!told.length) return;
  let list = document.querySelector(".bench-told");
  if (!list) {
    list = document.createElement("ul");
    list.className = "plain-list bench-told";
    bench().append(list);
  }
  for (const words of told) {
    const row = document.createElement("li");
    row.textContent = _("{what}: told, and counted when Diachrom answers", { what: words });
    list.append(row);
  }
};

/** Draw the session as it stands with what waits; false where nothing does, or nothing is kept. */
export const render = async () => {
  kept ??= await get("ahead", Number(session())) || null;
  const waiting = queue.filter(isOurs);
  if (!kept || kept.began !== bench()?.dataset.began) return false;
  if (!waiting.length && kept.seq <= Number(bench().dataset.seq)) return false;
  const state = waiting.reduce(after, kept);
  const step = state.steps[state.position - state.first];
  const said = document.getElementById("said")?.textContent;
  if (step) {
    Idiomorph.morph(bench(), step.html, { morphStyle: "outerHTML" });
    bench().dataset.now = ""; // it was told before
    htmx.process(bench());
    for (const one of document.querySelectorAll(".bench-caution"))
      if (state.agreed.includes(one.dataset.caution)) one.remove();
    if (!document.querySelector(".bench-caution"))
      for (const one of document.querySelectorAll("[data-after-cautions]")) one.hidden = false;
    drawDrops(step, state.fallen[step.key] ?? {});
  }
  drawTimers(state);
  drawTold([...state.told,
    ...(step ? [] : [_("More steps than were kept are done")]),
    ...(state.ended ? [_("The session has ended")] : [])
  ]);
  document.getElementById("said").textContent = said ?? "";
  document.dispatchEvent(new Event("htmx:afterSettle"));
  return true;
};

/** What the session's time is by what was kept; 0 where nothing is. */
export const estimate = async () => {
  kept ??= await get("ahead", Number(session())) || null;
  return kept && kept.began === bench()?.dataset.began ? kept.now + (Date.now() - kept.at_ms) /
    1000 :
    0;
};

/** Ask for the steps to come anew, after the hand has rested. */
export const ahead = () => {
  clearTimeout(asking);
  asking = setTimeout(async () => {
    const number = session();
    if (!number || waits()) return;
    try {
      const answer = await fetch(`/bench/${number}/ahead`);
      if (!answer.ok) return;
      const told = await answer.json();
      if (waits()) return;
      if (told.seq < Math.max(Number(bench().dataset.seq), known))
        return ahead(); // it was overtaken
      kept = { ...told, at_ms: Date.now(), begun: [], off: [], told: [] };
      put("ahead", kept);
      const others = (await every("ahead")).sort((one, other) => other.at_ms - one.at_ms);
      for (const old of others.slice(MOST_KEPT)) take("ahead", old.session);
      const next = kept.steps.slice(kept.position - kept.first, kept.position - kept.first +
        8);
      const pictures = next.flatMap((one) => one.html.match(
        /\/bench\/\d+\/picture\.png[^"]*/g) ?? []);
      const worker = await navigator.serviceWorker?.getRegistration();
      worker?.active?.postMessage({
        pictures: [...new Set(pictures)].map((one) => one.replaceAll("&amp;", "&"))
      });
    } catch { /* what was kept stays */ }
  }, AGAIN_MS);
};
/** What was counted is known at once, and the rest is asked for. */
export const learn = (press, seq) => {
  known = Math.max(known, seq);
  if (kept && isOurs(press)) {
    kept = { ...after(kept, press), seq, told: [] };
    put("ahead", kept);
  }
  if (!["tap", "untap"].includes(Object.fromEntries(press.values).kind)) ahead();
};
/** What may have got into the cup, where nobody answers what does. */
export const bottles = () => {
  const place = document.getElementById("bench-bottles");
  if (!place || !kept) return;
  place.innerHTML = kept.bottles;
  htmx.process(place);
};
