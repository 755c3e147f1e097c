// What this device can do for a session: keep its screen on, open without a network, ring.
import { keeps } from "./kit/waiting.js";
let lock = null;

const hold = async () => {
  const isOver = document.getElementById("bench")?.dataset.ended;
  if (document.hidden || isOver || lock?.released === false) return;
  try {
    lock = await navigator.wakeLock.request("screen");
  } catch { lock = null; } // a device that saves its battery
};
const say = async () => {
  const able = {
    wake: "wakeLock" in navigator,
    worker: "serviceWorker" in navigator,
    bell: globalThis.isSecureContext && globalThis.Notification?.permission === "default",
    rings: globalThis.isSecureContext && globalThis.Notification?.permission === "granted",
    store: await keeps()
  };
  for (const row of document.querySelectorAll("#bench-device [data-able]"))
    row.hidden = !able[row.dataset.able];
  for (const row of document.querySelectorAll("#bench-device [data-unable]"))
    row.hidden = able[row.dataset.unable];
};
document.addEventListener("visibilitychange", hold);
document.getElementById("bench-bell")?.addEventListener("click", async () => {
  await Notification.requestPermission();
  say();
});
hold();
say();
