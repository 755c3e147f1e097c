// Timers are moments: they are drawn from the time of day, and ring once when it comes. A drop is drawn as it is tapped.
(() => {
  const rung = new Set();
  let sound = null;

  const bell = () => { // three strokes that carry over a compressor
    try {
      sound ??= new AudioContext();
      for (const [at, pitch] of [[0, 1760], [0.35, 1320], [0.7, 1760]]) {
        const tone = sound.createOscillator(), loud = sound.createGain();
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
  const said = (seconds) => {
    const whole = Math.max(0, Math.ceil(seconds)), hours = Math.floor(whole / 3600), minutes = Math.floor(whole / 60) % 60;
    return hours ? `${hours} h ${String(minutes).padStart(2, "0")}` : `${minutes}:${String(whole % 60).padStart(2, "0")}`;
  };
  const tick = () => {
    const now = Date.now() / 1000;
    for (const one of document.querySelectorAll("[data-timer]")) {
      const began = Number(one.dataset.began), ends = Number(one.dataset.ends), closes = Number(one.dataset.closes);
      const over = now >= ends, left = one.querySelector(".timer-left");
      one.classList.toggle("over", over);
      one.querySelector(".timer-bar").style.width = `${Math.min(100, Math.max(0, 100 * (now - began) / Math.max(1, ends - began)))}%`;
      const past = one.dataset.of === "pot" ? "over: mix anew" : "dry";
      left.textContent = !over ? said(ends - now) : closes ? (now < closes ? `open, ${said(closes - now)} left` : "its window has closed") : past;
      if (over && !rung.has(one.dataset.timer)) {
        rung.add(one.dataset.timer);
        if (now - ends < 60) bell();
      }
    }
  };
  tick();
  setInterval(tick, 250);
  let step = document.getElementById("bench")?.dataset.step; // another step begins at its top
  document.addEventListener("htmx:afterSettle", () => {
    tick();
    const now = document.getElementById("bench")?.dataset.step;
    if (now !== step) { step = now; scrollTo(0, 0); }
  });
  document.addEventListener("pointerdown", () => { sound ??= new AudioContext(); }, { once: true }); // sound is let in by a touch
  // A drop is drawn before it is answered; the answer says what is counted.
  document.addEventListener("submit", (event) => {
    const { kind, bottle } = event.target.elements;
    if (kind?.value !== "tap") return;
    const row = document.querySelector(`.bench-pours [data-bottle="${CSS.escape(bottle.value)}"]`), next = row?.querySelector(".bead-dashed");
    if (next) { next.setAttribute("class", "bead"); next.setAttribute("fill", next.dataset.fill); }
    const count = row?.querySelector(".bench-count b");
    if (next && count) count.textContent = Math.max(0, Number(count.textContent) - 1);
  }, true);
  // A pedal types what it likes: each of these is the big press.
  document.addEventListener("key", (event) => {
    if (!["PageDown", "ArrowRight", "Enter"].includes(event.detail) || document.activeElement?.closest("a, button, summary")) return;
    const press = document.querySelector(".bench-next");
    if (press) { event.preventDefault(); press.click(); }
  });
})();
