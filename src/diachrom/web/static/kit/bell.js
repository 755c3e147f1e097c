// A bell that is heard over a compressor, a notification and a vibration where they are allowed; and
// how a timer says what is left of it.
import { _ } from "./words.js";
const RUNG = "diachrom-rung";
const SOON_S = 600; // before a window closes
const FRESH_S = 60; // it does not ring for what is long past
let sound = null;
// sound is let in by a touch
document.addEventListener("pointerdown", () => { sound ??= new AudioContext(); }, { once: true });

const rung = new Set();
const isFirst = (what) => { // of all pages of this browser
  if (rung.has(what)) return false;
  rung.add(what);
  try {
    const known = JSON.parse(localStorage.getItem(RUNG) ?? "[]");
    if (known.includes(what)) return false;
    localStorage.setItem(RUNG, JSON.stringify([...known, what].slice(-60)));
  } catch { /* a browser that keeps nothing rings on each of its pages */ }
  return true;
};

/** Three strokes that carry, and what they are for. */
export const bell = (words) => {
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
  navigator.vibrate?.([300, 150, 300]);
  if (globalThis.Notification?.permission !== "granted") return;
  navigator.serviceWorker?.ready.then((worker) => worker.showNotification(words, {
    icon: "/static/icon-192.png",
    tag: words
  })).catch(() => {});
};

const said = (seconds) => {
  const whole = Math.max(0, Math.ceil(seconds)),
    hours = Math.floor(whole / 3600),
    minutes = Math.floor(whole / 60) % 60;
  return hours ? `${hours} h ${String(minutes).padStart(2, "0")}` :
    `${minutes}:${String(whole % 60).padStart(2, "0")}`;
};

/** What a timer says at a moment of its session's time; it rings once when it comes to its end. */
export const left = (timer, now) => {
  const { name, words, ends, closes, of } = timer;
  const ring = (what, since, told) => {
    if (since >= 0 && since < FRESH_S && isFirst(`${timer.session} ${what}`)) bell(told);
  };
  const past = of === "pot" ? _("over: mix anew") : _("dry");
  ring(`${timer.key} ${ends}`, now - ends, `${name ?? ""} ${words}: ${past}`.trim());
  if (closes) ring(`${timer.key} ${closes} closes`, now - closes + SOON_S, `${words}: ${
    _("its window closes soon")}`);
  if (now < ends) return said(ends - now);
  if (!closes) return past;
  return now < closes ? _("open, {time} left", { time: said(closes - now) }) : _(
    "its window has closed");
};
