// A rest that runs down: minutes, then seconds, then "rested".
import { _ } from "./kit/words.js";

const show = () => {
  for (const one of document.querySelectorAll("[data-until]")) {
    const left = Math.round((Date.parse(one.dataset.until) - Date.now()) / 1000);
    const time = left < 60 ? `${left} s` : `${Math.ceil(left / 60)} min`;
    one.textContent = left <= 0 ? _("Rested") : _("Rests {time} more", { time });
  }
};
setInterval(show, 1000);
show();
