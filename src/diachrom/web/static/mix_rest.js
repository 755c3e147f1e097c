// A rest that runs down: minutes, then seconds, then "rested".
import { _ } from "./kit/words.js";
const show = () => {
  for (const one of document.querySelectorAll("[data-until]")) {
    const left = Math.round((Date.parse(one.dataset.until) - Date.now()) / 1000);
    one.textContent = left <= 0 ? _("Rested") :
      _("Rests {time} more", { time: left < 60 ? `${left} s` : `${Math.ceil(left / 60)} min` });
  }
};
setInterval(show, 1000);
show();
