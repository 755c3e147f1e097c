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
      left.textContent = !over ? said(ends - now) : closes ? (now < closes ? `open, ${said(closes - now)} left` : "its window has closed") : "dry";
      if (over && !rung.has(one.dataset.timer)) {
        rung.add(one.dataset.timer);
        if (now - ends < 60) bell();
      }
    }
  };
  tick();
  setInterval(tick, 250);
  document.addEventListener("htmx:afterSettle", tick);
  document.addEventListener("pointerdown", () => { sound ??= new AudioContext(); }, { once: true }); // sound is let in by a touch
  document.addEventListener("submit", (event) => {
    const drop = event.target.querySelector(".bench-drop"), next = event.target.closest("li")?.querySelector(".bead-dashed");
    if (drop && next) { next.classList.remove("bead-dashed", "bead-clear"); next.classList.add("bead"); }
  }, true);
})();
