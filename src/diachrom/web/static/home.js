// What dries: counted from the server's time by the page's own steady clock.
import { _ } from "./kit/words.js";
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
        _("dry") : now < closes ? _("open, {time}", { time: said(closes - now) }) : _("closed");
    }
  };
  tick();
  setInterval(tick, 1000);
}
