// A rest that runs down: minutes, then seconds, then "rested".
const show = () => {
  for (const one of document.querySelectorAll("[data-until]")) {
    const left = Math.round((Date.parse(one.dataset.until) - Date.now()) / 1000);
    one.textContent = left <= 0 ? "Rested" :
      `Rests ${left < 60 ? `${left} s` : `${Math.ceil(left / 60)} min`} more`;
  }
};
setInterval(show, 1000);
show();
