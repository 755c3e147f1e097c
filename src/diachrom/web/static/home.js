// What dries: counted from the server's time by the page's own steady clock.
const list = document.querySelector(".home-list[data-now]");
if (list) {
  const offset = Number(list.dataset.now) - performance.now() / 1000;
  const said = (seconds) => {
    const minutes = Math.max(0, Math.ceil(seconds / 60));
    return minutes < 100 ? `${minutes} min` : `${Math.round(minutes / 60)} h`;
  };
  const tick = () => {
    const now = performance.now() / 1000 + offset;
    for (const one of list.children) {
      const ends = Number(one.dataset.ends),
        closes = Number(one.dataset.closes);
      one.querySelector(".home-left").textContent = now < ends ? said(ends - now) : !closes ?
        "dry" : now < closes ? `open, ${said(closes - now)}` : "closed";
    }
  };
  tick();
  setInterval(tick, 1000);
}
