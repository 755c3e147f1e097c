// Presses that nobody has answered yet, in the browser's own store: they outlive the page, another
// page and a dead battery. What a device keeps for when nobody answers stands beside them.
const STORES = ["presses", "refused", "ahead"];
let last = 0; // the order of the hand
let refuses = false; // something could not be kept: there is no room, or no leave

/** Presses that wait, in the order of the hand: of this page, and what an earlier one left. */
export const queue = [];

const opened = new Promise((done) => {
  try {
    const asked = indexedDB.open("diachrom", 1);
    asked.onupgradeneeded = () => {
      asked.result.createObjectStore("presses", { keyPath: "order" });
      asked.result.createObjectStore("refused", { keyPath: "order" });
      asked.result.createObjectStore("ahead", { keyPath: "session" });
    };
    asked.onsuccess = () => {
      // the store is forgotten by another page of ours
      asked.result.onversionchange = () => asked.result.close();
      done(asked.result);
    };
    asked.onerror = asked.onblocked = () => done(null);
  } catch { done(null); }
});
const within = async (store, mode, does) => {
  const base = await opened;
  if (!base) return null;
  return new Promise((done) => {
    try {
      const whole = base.transaction(store, mode, { durability: "strict" });
      const asked = does(whole.objectStore(store));
      whole.oncomplete = () => done(asked.result);
      whole.onerror = whole.onabort = () => {
        refuses ||= mode === "readwrite";
        done(null);
      };
    } catch {
      refuses = true;
      done(null);
    }
  });
};

/** Whether this browser keeps what it is given. */
export const keeps = async () => (await opened) !== null && !refuses;

/** All of a store, in the order of the hand. */
export const every = async (store) => (await within(store, "readonly", (own) => own.getAll())) ||
[];

/** What was kept before this page began. */
export const before = every("presses").then((found) => {
  last = Math.max(last, ...found.map((one) => one.order));
  return found;
});

/** Keep a press before it is sent; it gets its place in the order at once. */
export const keep = async (press) => {
  await before;
  press.order = ++last;
  const { elt, target, swap, ...plain } = press; // what is of this page alone is not kept
  return within("presses", "readwrite", (own) => own.put(plain));
};

/** It was answered. */
export const drop = async (press) => {
  await before;
  if (press.order) await within("presses", "readwrite", (own) => own.delete(press.order));
};

export const put = (store, value) => within(store, "readwrite", (own) => own.put(value));
export const take = (store, key) => within(store, "readwrite", (own) => own.delete(key));
export const get = (store, key) => within(store, "readonly", (own) => own.get(key));

/** A device that was sent away forgets all that it kept. */
export const forget = async () => {
  for (const store of STORES) await within(store, "readwrite", (own) => own.clear());
  if (globalThis.caches)
    for (const name of await caches.keys()) await caches.delete(name);
  for (const worker of await navigator.serviceWorker?.getRegistrations() ?? [])
    await worker.unregister();
};
