// On every page: puts by what a phone needs without a signal, sends what waits on it, and lets a new build take over when
// no session is open.
import { Keep } from "./db.js";

export async function register() {
  // A browser refuses offline work on plain http, but for its own machine: that is said, and where to go.
  /** @type {NodeListOf<HTMLElement>} */
  const plain = document.querySelectorAll("[data-plain]");
  for (const node of plain) node.hidden = window.isSecureContext;
  if (!navigator.serviceWorker) return;
  const own = await navigator.serviceWorker.register("/sw.js");
  const offer = async () => {
    if (!own.waiting) return;
    const keep = await Keep.open();
    const open = (await keep.all("sessions")).some((/** @type {Session} */ session) => !session.ended);
    if (!open) own.waiting.postMessage("take over");
  };
  own.addEventListener("updatefound", () => {
    const coming = own.installing;
    if (coming) coming.addEventListener("statechange", () => offer().catch(() => {}));
  });
  await offer();
}

// carry puts the day's packs by. Today and a dog's page ask for it, whenever they are loaded.
export async function carry() {
  const answer = await fetch("/api/field", { headers: { Accept: "application/json" } });
  if (!answer.ok) return;
  const keep = await Keep.open();
  await keep.carry(await answer.json());
  document.documentElement.dataset.carried = "yes";
}

// carryPlan puts by the plan whose page is looked at, for a week: it may be what is worked though Today did not say so.
async function carryPlan(/** @type {string} */ plan) {
  const answer = await fetch(`/api/packs/${plan}`, { headers: { Accept: "application/json" } });
  if (!answer.ok) return;
  const keep = await Keep.open();
  await keep.newest(await answer.json(), true);
  document.documentElement.dataset.carried = "yes";
}

// sends brings what was logged on this device to the server from any page, and says how that stands.
async function sends() {
  const node = document.getElementById("unsaved");
  const keep = await Keep.open();
  await keep.epoch(document.body.dataset.epoch);
  const [{ count }, refused] = await Promise.all([keep.waiting(0), keep.refused()]);
  if (!node || (!count && !refused.length)) return;
  const { savedLine, Sender } = await import("./sender.js");
  new Sender(keep, (sent) => {
    node.hidden = false;
    node.querySelector("strong").textContent = `Logged on this device: ${savedLine(sent).replace(/^[A-Z]/, (first) => first.toLowerCase())}.`;
    /** @type {HTMLElement} */ (node.querySelector("[data-refused]")).hidden = !sent.refused.length;
    node.querySelector("a").hidden = !count || sent.waiting > 0; // what was sent just now is not on this page yet
  });
}

// reads says how far the reading of sessions is on which this page rests, and shows the page anew when it is done, unless
// somebody has begun to use it: what they typed, opened or hold is theirs.
async function reads() {
  const node = document.getElementById("reading");
  if (!node) return;
  let used = false;
  for (const action of ["input", "pointerdown", "keydown"]) document.addEventListener(action, () => (used = true), { capture: true });
  for (let pause = 100; ; pause = Math.min(2 * pause, 400)) {
    await new Promise((done) => setTimeout(done, pause));
    const answer = await fetch("/api/reading", { headers: { Accept: "application/json" } });
    if (!answer.ok) return;
    const { done, total } = await answer.json();
    if (!total) break;
    node.querySelector("span").textContent = `Reading ${done} of ${total} sessions anew. Until then this page may be behind.`;
  }
  if (!used) return location.reload();
  node.querySelector("span").textContent = "The sessions are read.";
  node.querySelector("a").hidden = false;
}

if (!document.getElementById("run")) {
  reads().catch(() => {});
  register().catch(() => {});
  sends().catch(() => {});
}
if (document.querySelector("[data-carry]")) carry().catch(() => {});
/** @type {HTMLElement | null} */
const looked = document.querySelector("[data-carry-plan]");
if (looked) carryPlan(looked.dataset.carryPlan).catch(() => {});
