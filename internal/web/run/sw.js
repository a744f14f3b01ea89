// Keeps the Run screen's shell on the device, so that a session can be opened without a signal. It holds
// no dog's data: that is in IndexedDB. A new build waits here until a page says that no session is open.
const CACHE = "patientfox-__BUILD__";
const FILES = ["__FILES__"];
const PATIENCE = 5000; // ms for a page before what is kept is shown instead

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(CACHE).then((cache) => cache.addAll(FILES)));
});

self.addEventListener("activate", (event) => {
  const tidy = async () => {
    for (const name of await caches.keys()) if (name.startsWith("patientfox-") && name !== CACHE) await caches.delete(name);
    await self.clients.claim();
  };
  event.waitUntil(tidy());
});

self.addEventListener("message", ({ data }) => {
  if (data === "take over") self.skipWaiting();
});

const kept = async (request) => (await caches.open(CACHE)).match(request, { ignoreSearch: true, ignoreVary: true });

async function page(request) {
  let waited;
  const tired = new Promise((_, reject) => (waited = setTimeout(() => reject(new Error("slow")), PATIENCE)));
  const asked = fetch(request);
  asked.catch(() => {});
  try {
    return await Promise.race([asked, tired]);
  } catch {
    return (await kept("/run")) || asked;
  } finally {
    clearTimeout(waited);
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  const own = ["/run", "/run/class", "/run/worker.js"].includes(url.pathname) || url.pathname.startsWith("/a/");
  if (own) event.respondWith(kept(request).then((answer) => answer || fetch(request)));
  else if (request.mode === "navigate") event.respondWith(page(request));
});
