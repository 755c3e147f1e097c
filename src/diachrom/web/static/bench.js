// Timers are moments of the session's own time: they are drawn from it, and ring once when they
// come. A drop is drawn as it is tapped; what waits is drawn on what is kept of the steps to come.
import { ahead, bottles, estimate, learn, render, waits } from "./bench_ahead.js";
import { left } from "./kit/bell.js";
import { _ } from "./kit/words.js";
// from the page's own steady clock to the session's time: no clock that is set moves a timer
let offset = 0;
const heard = (now) => { if (now) offset = Number(now) - performance.now() / 1000; };
const tick = () => {
  const now = performance.now() / 1000 + offset;
  for (const one of document.querySelectorAll("[data-timer]")) {
    const began = Number(one.dataset.began),
      ends = Number(one.dataset.ends);
    one.classList.toggle("over", now >= ends);
    one.querySelector(".timer-bar").style.width =
      `${Math.min(100, Math.max(0, 100 * (now - began) / Math.max(1, ends - began)))}%`;
    one.querySelector(".timer-left").textContent = left({
      session: document.getElementById("bench").dataset.session,
      key: one.dataset.timer,
      words: one.querySelector(".timer-words").textContent,
      ends,
      closes: Number(one.dataset.closes),
      of: one.dataset.of
    }, now);
  }
};
heard(document.getElementById("bench")?.dataset.now);
document.addEventListener("htmx:afterRequest", (event) => heard(event.detail.xhr.getResponseHeader(
  "X-Bench-Now")));
tick();
setInterval(tick, 250);
let said_at = document.getElementById("bench")?.dataset.now;
const placed = () =>
  `${document.getElementById("bench")?.dataset.step} ${document.querySelectorAll(".bench-caution").length}`;
let step = placed(); // another step begins at its top, and one whose caution was read
document.addEventListener("htmx:afterSettle", () => {
  const told = document.getElementById("bench")?.dataset.now;
  if (told !== said_at) {
    said_at = told;
    heard(told);
  } // a fragment inside of it tells no time
  tick();
  const now = placed();
  if (now !== step) {
    step = now;
    scrollTo(0, 0);
  }
});
// A drop is drawn as it is tapped. Presses wait their turn (hx-sync on #content) and are answered
// in their order: what
// an answer does not know of yet is drawn again on it. The big press goes on to the drop that is
// due.
const tapped = []; // bottles whose drops are not answered yet
const rows = () => [...document.querySelectorAll(".bench-pours li")];
const draw = (bottle) => {
  const row = rows().find((one) => one.dataset.bottle === bottle);
  const bead = row?.querySelector(".bead-dashed"),
    count = row?.querySelector(".bench-count b");
  if (!bead) return;
  bead.setAttribute("class", "bead");
  bead.setAttribute("fill", bead.dataset.fill);
  count.textContent = Math.max(0, Number(count.textContent) - 1);
};
const due = () => {
  const form = document.querySelector(".bench-next")?.form,
    row = rows().find((one) => one.querySelector(".bead-dashed"));
  if (form?.elements.kind?.value !== "tap") return;
  const words = form.querySelector("button");
  if (row) form.elements.bottle.value = row.dataset.bottle;
  else form.elements.kind.value = "next";
  words.firstChild.textContent = row ? row.querySelector(".bench-drop").textContent : _("Done");
  words.querySelector("small").textContent = row ?
    _("a drop; {left} to fall", { left: row.querySelector(".bench-count b").textContent }) : "";
};
// It is sent as it was pressed, whatever its form says by the time that its turn comes.
const asPressed = (form, values, words) => {
  const sent = document.createElement("form");
  for (const { name, value } of form.attributes)
    if (name.startsWith("hx-") || ["method", "action"].includes(name)) sent.setAttribute(name,
      value);
  for (const [name, value] of values) {
    const input = document.createElement("input");
    Object.assign(input, { type: "hidden", name, value });
    sent.append(input);
  }
  sent.hidden = true;
  sent.words = words;
  document.getElementById("content").append(sent);
  htmx.process(sent);
  sent.requestSubmit();
};
addEventListener("submit", (event) => { // on the window: before anybody else hears of it
  const form = event.target,
    values = new FormData(form);
  if (!form.closest("#bench") || !form.hasAttribute("hx-post")) return;
  const open = form.closest("details");
  if (open) open.open = false; // it was said
  const chosen = [...form.querySelectorAll(
      "select[name=what], input[name=value]:not([type=hidden])")]
    .map((one) => one.selectedOptions?.[0]?.text ?? one.value);
  const words = chosen.filter(Boolean).join(": ") || event.submitter?.firstChild?.textContent ||
    "";
  if (form.enctype === "multipart/form-data") return;
  event.preventDefault();
  event.stopPropagation();
  if (values.get("kind") === "tap") {
    tapped.push(values.get("bottle"));
    draw(values.get("bottle"));
    due();
  }
  asPressed(form, values, words.trim());
}, true);
const heardOf = new WeakSet();
const answered = ({ detail: { xhr, requestConfig } }) => {
  if (!xhr.status || heardOf.has(xhr) || requestConfig?.formData?.get("kind") !== "tap") return;
  heardOf.add(xhr);
  tapped.shift();
};
const anew = async () => { // with what was said of a refusal
  const said = document.getElementById("said").textContent,
    { session } = document.getElementById("bench").dataset;
  await htmx.ajax("GET", `/bench/${session}`, { target: "#bench", swap: "morph:outerHTML" });
  document.getElementById("said").textContent = said;
};
document.addEventListener("htmx:beforeSwap", (event) => {
  answered(event);
  const seq = event.detail.xhr.getResponseHeader("X-Bench-Seq"),
    shown = document.getElementById("bench")?.dataset.seq;
  if (seq !== null && Number(seq) < Number(shown)) {
    event.detail.shouldSwap = false;
    anew();
  } // it was overtaken
  // what waits is ahead of what anybody else knows
  if (waits() && event.detail.requestConfig?.verb === "get" && event.detail.target?.id ===
    "bench")
    event.detail.shouldSwap = false;
});
const drawn = async () => {
  if (await render()) {
    tapped.length = 0;
    due();
  } else if (!waits()) ahead();
};
document.addEventListener("presses-wait", drawn);
document.addEventListener("htmx:sendError", ({ detail: { requestConfig } }) => {
  if (requestConfig.path.endsWith("/bottles")) bottles();
});
document.addEventListener("htmx:afterSwap", () => {
  for (const one of tapped) draw(one);
  if (tapped
    .length) due();
});
document.addEventListener("htmx:afterRequest", (event) => {
  answered(event);
  const { xhr, requestConfig } = event.detail;
  const seq = Number(xhr.getResponseHeader("X-Bench-Seq"));
  if (seq && /\/happen$/.test(requestConfig.path)) {
    const values = [...requestConfig.formData.entries()];
    learn({ path: requestConfig.path, values, at_ms: Date.now() }, seq);
  } else if (seq) ahead(); // another at the session
  if (event.detail.xhr.status && event.detail.elt.parentElement?.id === "content" && event
    .detail.elt.matches("form[hidden]")) event.detail.elt.remove();
  if (event.detail.xhr.status >= 400 && event.detail.requestConfig?.path.startsWith("/bench/"))
    anew();
});
// What another at the session taps leaves what is typed here, and what stands open.
Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) =>
  !(name === "open" && node.closest("#bench")) && !(name === "value" && node === document
    .activeElement && node.matches("input"));
// Where it went wrong is touched on the picture.
document.addEventListener("pointerdown", (event) => {
  const picture = event.target.closest("#slip-picture");
  if (!picture) return;
  const box = picture.getBoundingClientRect(),
    [x, y] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  document.getElementById("slip-across").value = x.toFixed(4);
  document.getElementById("slip-down").value = y.toFixed(4);
  const mark = document.getElementById("slip-mark");
  for (const [key, value] of [
      ["cx", 100 * x],
      ["cy", 100 * y],
      ["r", 3]
    ]) mark.setAttribute(key, String(value));
});
document.addEventListener("change", (event) => {
  const picture = document.getElementById("slip-picture");
  if (event.target.id !== "slip-side" || !picture) return;
  picture.src = picture.dataset.src + event.target.value;
  document.getElementById("slip-across").value = "";
  document.getElementById("slip-mark").setAttribute("r", "0");
});
// A picture that nobody draws leaves its place empty.
for (const [what, how] of [
    ["error", "hidden"],
    ["load", "visible"]
  ])
  document.addEventListener(what, (event) => {
    if (event.target.matches?.("#bench img")) event.target.style.visibility = how;
  }, true);
// A pedal types what it likes: each of these is the big press.
document.addEventListener("key", (event) => {
  if (!["PageDown", "ArrowRight", "Enter"].includes(event.detail) || document.activeElement
    ?.closest("a, button, summary")) return;
  const press = document.querySelector(".bench-next");
  if (press) {
    event.preventDefault();
    press.click();
  }
});
// Opened where nobody answers it stands as it did, with what waits.
drawn();
estimate().then((now) => {
  if (now > performance.now() / 1000 + offset) heard(now);
});
