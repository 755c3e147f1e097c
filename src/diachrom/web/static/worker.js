// What a device keeps of Diachrom: styles and scripts as they were last seen, and the session that is
// under way. Everything else is asked for; where nobody answers, the session opens.
const [STATIC, PAGES] = ["diachrom-static", "diachrom-pages"];
const UNDER_WAY = "/bench/under-way"; // the key under which its path is kept
const PATIENCE_MS = 4000;
const [MOST_STATIC, MOST_PICTURES] = [400, 80];

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

const keepStatic = async (request) => {
  const cache = await caches.open(STATIC);
  const answer = await fetch(request);
  if (answer.ok) {
    // an older form of the same file goes
    const { pathname } = new URL(request.url ?? request, self.location.origin);
    for (const old of await cache.keys())
      if (new URL(old.url).pathname === pathname) await cache.delete(old);
    await cache.put(request, answer.clone());
    const all = await cache.keys();
    for (const old of all.slice(0, Math.max(0, all.length - MOST_STATIC))) await cache.delete(
      old);
  }
  return answer;
};
const fromStatic = async (request) => {
  const cache = await caches.open(STATIC);
  const kept = await cache.match(request);
  if (kept && new URL(request.url).searchParams.has("v")) return kept;
  try {
    return await keepStatic(request);
  } catch (error) {
    const any = kept ?? await cache.match(request, { ignoreSearch: true });
    if (any) return any;
    throw error;
  }
};
const forget = async () => {
  for (const name of await caches.keys()) await caches.delete(name);
};
const page = async (request) => {
  const cache = await caches.open(PAGES);
  const { pathname } = new URL(request.url);
  const known = await cache.match(pathname);
  // what is kept is not waited for
  const late = new Promise((_, fail) => { if (known) setTimeout(fail, PATIENCE_MS); });
  try {
    const answer = await Promise.race([fetch(request), late]);
    if (answer.headers.get("X-Forget")) await forget();
    else if (answer.ok && known) await cache.put(pathname, answer.clone());
    return answer;
  } catch (error) {
    if (known) return known;
    const underWay = await (await cache.match(UNDER_WAY))?.text();
    if (underWay) return Response.redirect(underWay);
    throw error;
  }
};
// The same picture as it was at another moment: of that step, of that bait.
const likeIt = async (cache, request) => {
  const of = (address) => {
    const url = new URL(address);
    url.searchParams.delete("at");
    return url.href;
  };
  const like = (await cache.keys()).reverse().find((one) => of(one.url) === of(request.url));
  return like && cache.match(like);
};
const picture = async (request) => {
  const cache = await caches.open(PAGES);
  try {
    const answer = await fetch(request);
    if (answer.ok) {
      await cache.put(request, answer.clone());
      const all = (await cache.keys()).filter((one) => one.url.includes(".png"));
      for (const old of all.slice(0, Math.max(0, all.length - MOST_PICTURES))) await cache
        .delete(
          old);
    }
    return answer;
  } catch (error) {
    const kept = await cache.match(request) ?? await likeIt(cache, request);
    if (kept) return kept;
    throw error;
  }
};

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { pathname, origin } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  if (pathname.startsWith("/static/")) event.respondWith(fromStatic(request));
  else if (request.mode === "navigate" && request.destination === "document") event.respondWith(
    page(request)); // frames of other sites go past it, and are refused
  else if (/^\/bench\/\d+\/(picture|bait)\.png$/.test(pathname)) event.respondWith(picture(
    request));
});

// The page under way says what it needs; what it kept of another one goes.
const keep = async ({ kept, page: path, over, pictures }) => {
  const own = await caches.open(STATIC);
  for (const name of kept ?? [])
    if (!await own.match(name)) await keepStatic(name).catch(() => {});
  if (over) {
    const pages = await caches.open(PAGES);
    await pages.delete(over);
    if (await (await pages.match(UNDER_WAY))?.text() === over) await pages.delete(UNDER_WAY);
  }
  if (!path && !pictures) return;
  const pages = await caches.open(PAGES);
  if (path) {
    const answer = await fetch(path);
    if (answer.ok) {
      for (const old of await pages.keys())
        if (!`${new URL(old.url).pathname}/`.startsWith(`${path}/`)) await pages.delete(old);
      await pages.put(path, answer);
      await pages.put(UNDER_WAY, new Response(path));
    }
  }
  for (const one of pictures ?? [])
    if (!await pages.match(one)) {
      const answer = await fetch(one);
      if (answer.ok) await pages.put(one, answer);
    }
};
self.addEventListener("message", (event) => event.waitUntil(keep(event.data).catch(() => {})));
self.addEventListener("notificationclick", (event) => {
  event.notification.close();
  event.waitUntil(self.clients.matchAll({ type: "window" }).then((open) => open[0]?.focus() ??
    self.clients.openWindow("/")));
});
