// Where the browser lets it (over HTTPS, or at the machine itself) what is needed for the session
// under way is kept by a worker, so that it opens without a network.
const resources = () => performance.getEntriesByType("resource").map((one) => one.name).filter((
    name) => new URL(name).origin === location.origin && /\/static\/|\/access\/app\.webmanifest/
  .test(
    name));

/** Whether this browser could keep pages for us. */
export const able = "serviceWorker" in navigator;

const keep = async () => {
  const worker = (await navigator.serviceWorker.ready).active;
  const session = document.getElementById("bench")?.dataset.session;
  const ended = document.getElementById("bench")?.dataset.ended;
  worker?.postMessage({
    kept: resources(),
    page: session && !ended ? location.pathname : "",
    over: ended ? location.pathname : ""
  });
};
if (able && !document.body.dataset.signIn) {
  navigator.serviceWorker.register("/access/worker.js", { scope: "/" }).then(() => {
    if (document.readyState === "complete") keep();
    else addEventListener("load", keep);
  }).catch(() => {}); // it works as it did
}
