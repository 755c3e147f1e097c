// Timers are moments of the session's own time: they are drawn from it, and ring once when they
// come. A drop is drawn as it is tapped.
import { _ } from "./kit/words.js";
const SOON_S = 600; // before a window closes
const rung = new Set();
// from the page's own steady clock to the session's time: no clock that is set moves a timer
let offset = 0;
const heard = (now) => { if (now) offset = Number(now) - performance.now() / 1000; };
let sound = null;

const bell = () => { // three strokes that carry over a compressor
  try {
    sound ??= new AudioContext();
    for (const [at, pitch] of [
        [0, 1760],
        [0.35, 1320],
        [0.7, 1760]
      ]) {
      const tone = sound.createOscillator(),
        loud = sound.createGain();
      tone.type = "square";
      tone.frequency.value = pitch;
      loud.gain.setValueAtTime(0.4, sound.currentTime + at);
      loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + at + 0.3);
      tone.connect(loud).connect(sound.destination);
      tone.start(sound.currentTime + at);
      tone.stop(sound.currentTime + at + 0.32);
    }
  } catch { /* a browser without sound still shows the bar */ }
};
const ring = (what, since) => { // once, when it comes; not for what is long past
  if (since < 0 || rung.has(what)) return;
  rung.add(what);
  if (since < 60) bell();
};
const said = (seconds) => {
  const whole = Math.max(0, Math.ceil(seconds)),
    hours = Math.floor(whole / 3600),
    minutes = Math.floor(whole / 60) % 60;
  return hours ? `${hours} h ${String(minutes).padStart(2, "0")}` :
    `${minutes}:${String(whole % 60).padStart(2, "0")}`;
};
const tick = () => {
  const now = performance.now() / 1000 + offset;
  for (const one of document.querySelectorAll("[data-timer]")) {
    const began = Number(one.dataset.began),
      ends = Number(one.dataset.ends),
      closes = Number(one.dataset.closes);
    const over = now >= ends,
      left = one.querySelector(".timer-left");
    one.classList.toggle("over", over);
    one.querySelector(".timer-bar").style.width =
      `${Math.min(100, Math.max(0, 100 * (now - began) / Math.max(1, ends - began)))}%`;
    const past = one.dataset.of === "pot" ? _("over: mix anew") : _("dry");
    left.textContent = !over ? said(ends - now) : closes ? (now < closes ?
      _("open, {time} left", { time: said(closes - now) }) : _("its window has closed")) : past;
    ring(`${one.dataset.timer} ${ends}`, now - ends);
    if (closes) ring(`${one.dataset.timer} ${closes} closes`, now - closes + SOON_S);
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
// sound is let in by a touch
document.addEventListener("pointerdown", () => { sound ??= new AudioContext(); }, { once: true });
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
const asPressed = (form, values) => {
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
  if (form.enctype === "multipart/form-data") return;
  event.preventDefault();
  event.stopPropagation();
  if (values.get("kind") === "tap") {
    tapped.push(values.get("bottle"));
    draw(values.get("bottle"));
    due();
  }
  asPressed(form, values);
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
});
document.addEventListener("htmx:afterSwap", () => {
  for (const one of tapped) draw(one);
  if (tapped
    .length) due();
});
document.addEventListener("htmx:afterRequest", (event) => {
  answered(event);
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
