// Keeps the pages that a household opened by its links, so that they are there without a signal. It reaches nothing else of the practice.
const CACHE = "household-__BUILD__";
const PAGES = "household-pages";
const FILES = ["__FILES__"];
const PATIENCE = 4000; // ms for a page before what is kept is shown instead

self.addEventListener("install", (event) => {
  self.skipWaiting(); // nothing runs here that a new build could break
  event.waitUntil(caches.open(CACHE).then((cache) => cache.addAll(FILES)));
});

// A page that was kept asks for the files of its own build, so all are fetched anew before those go.
self.addEventListener("activate", (event) => {
  const tidy = async () => {
    await self.clients.claim();
    const pages = await caches.open(PAGES);
    for (const { url } of await pages.keys()) await fetched(new Request(url));
    for (const name of await caches.keys()) {
      if (name.startsWith("household-") && name !== CACHE && name !== PAGES) await caches.delete(name);
    }
  };
  event.waitUntil(tidy().catch(() => {})); // without a signal the older files stay
});

// fetched asks for a page and keeps it; a link that has ended leaves nothing behind.
async function fetched(request) {
  const answer = await fetch(request);
  const pages = await caches.open(PAGES);
  if (answer.ok) await pages.put(request.url, answer.clone());
  else if (answer.status === 404) await pages.delete(request.url);
  return answer;
}

async function page(request) {
  let waited;
  const tired = new Promise((_, reject) => (waited = setTimeout(() => reject(new Error("slow")), PATIENCE)));
  const asked = fetched(request);
  asked.catch(() => {});
  try {
    return await Promise.race([asked, tired]);
  } catch {
    return (await (await caches.open(PAGES)).match(request.url)) || asked;
  } finally {
    clearTimeout(waited);
  }
}

self.addEventListener("message", (event) => {
  if (event.data.keep) event.waitUntil(fetched(new Request(event.data.keep)).catch(() => {}));
});

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  if (url.pathname.startsWith("/a/")) event.respondWith(caches.match(request, { ignoreVary: true }).then((answer) => answer || fetch(request)));
  else if (url.pathname.startsWith("/h/")) event.respondWith(page(request));
});
