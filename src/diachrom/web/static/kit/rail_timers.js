// What dries in the sessions under way, on the rail of every page: there the bell rings too.
import { left } from "./bell.js";
const [EVERY_MS, MOST] = [30_000, 3];
const place = document.getElementById("rail-timers");
let timers = [];

const draw = () => {
  const now = performance.now() / 1000;
  for (const one of timers) one.row.querySelector("b").textContent = left(one, now + one.offset);
};
const ask = async () => {
  if (document.hidden && !timers.length) return;
  try {
    const answer = await fetch("/bench/timers", { headers: { Accept: "application/json" } });
    if (answer.status === 401) clearInterval(asking); // it was sent away
    if (!answer.ok) return;
    const sessions = await answer.json();
    const here = performance.now() / 1000;
    timers = sessions.flatMap((session) => session.timers.map((timer) => ({
      ...timer,
      session: session.session,
      name: session.name,
      offset: session.now - here
    }))).sort((one, other) => one.ends - other.ends);
  } catch { return; } // they go on as they were
  place.replaceChildren(...timers.map((timer, index) => {
    const row = document.createElement("a");
    row.href = `/bench/${timer.session}`;
    row.append(document.createElement("b"), ` ${timer.words}`);
    row.title = `${timer.name}: ${timer.words}`;
    row.hidden = index >= MOST;
    timer.row = row;
    return row;
  }));
  draw();
};
const asking = setInterval(ask, EVERY_MS);
ask();
setInterval(draw, 500);
document.addEventListener("timers", ask); // the bench knows of another one
