// The page that a household has by its link. What is pressed is kept on the phone until the practice has it, with a signal or without; an
// id that is made here keeps what is sent twice from being counted twice.
import { clear, count, dayOf, press, pressed, show } from "./press.js";

const path = location.pathname;
const KEPT = `household ${path}`;
const AT_ONCE = 5; // lines in one request: the practice takes 8 KiB from a stranger
const AGAIN = 20000; // ms until it is tried again

/** @typedef {{ id: string, skill: string, why?: string } & Record<string, any>} Line */

/** @type {{ waiting: Line[], draft: Record<string, { presses: string, day: string }[]>, said: Record<string, string[]> }} */
let state = { waiting: [], draft: {}, said: {} };
let sending = false;
let ended = false;

const days = /** @type {HTMLSelectElement} */ (document.getElementById("day")); // there on the sheet alone
const by = (/** @type {string} */ id) => document.getElementById(id);
const all = (/** @type {string} */ css) => /** @type {HTMLElement[]} */ ([...document.querySelectorAll(css)]);

function say(/** @type {string} */ text) {
  by("said").textContent = text;
  by("send").classList.toggle("up", Boolean(text) || !by("send-key").hidden);
}

// A phone that keeps nothing works all the same, as long as the page is open.
function keep() {
  try {
    localStorage.setItem(KEPT, JSON.stringify(state));
  } catch {
    by("unkept").hidden = false;
  }
}

function recall() {
  try {
    state = { ...state, ...JSON.parse(localStorage.getItem(KEPT) || "{}") };
  } catch {
    by("unkept").hidden = false;
  }
  for (const skill of all("[data-skill]")) {
    const drafts = state.draft[`${skill.dataset.plan} ${skill.dataset.step}`] || [];
    [...skill.querySelectorAll("[data-round]")].forEach((round, at) => {
      if (drafts[at]) Object.assign(/** @type {HTMLElement} */ (round).dataset, drafts[at]);
      show(/** @type {HTMLElement} */ (round));
    });
    [...skill.querySelectorAll("input")].forEach((field, at) => (field.value = (state.said[skill.dataset.plan] || [])[at] || ""));
  }
}

// draft keeps what stands pressed and was not sent.
function draft() {
  state.draft = {};
  for (const skill of all("[data-skill]")) {
    const rounds = /** @type {HTMLElement[]} */ ([...skill.querySelectorAll("[data-round]")]);
    state.draft[`${skill.dataset.plan} ${skill.dataset.step}`] = rounds.map((round) => ({
      presses: round.dataset.presses || "", day: round.dataset.day || "",
    }));
    state.said[skill.dataset.plan] = [...skill.querySelectorAll("input")].map((field) => field.value);
  }
  keep();
  const n = pressed().length;
  by("send-key").hidden = !n;
  by("send-key").textContent = n === 1 ? "Send this round" : `Send ${n} rounds`;
  say("");
}

// drawn lists what waits on this phone.
function drawn() {
  const list = by("waiting");
  list.replaceChildren();
  for (const line of state.waiting) {
    const row = /** @type {HTMLTemplateElement} */ (by("waits")).content.cloneNode(true);
    const part = (/** @type {string} */ name) => /** @type {HTMLElement} */ (/** @type {DocumentFragment} */ (row).querySelector(`[data-${name}]`));
    part("what").textContent = `${line.skill}: ${count(line)}`;
    part("rest").textContent = [line.day, line.place, line.remark].filter(Boolean).join(" · ");
    part("why").textContent = line.why || (ended ? "" : "waits for a signal");
    part("drop").dataset.drop = line.id;
    part("drop").setAttribute("aria-label", `Take back: ${line.skill}: ${count(line)}`);
    list.append(row);
  }
  by("waiting-part").hidden = !state.waiting.length;
}

// refresh shows what the practice has by now.
async function refresh() {
  const answer = await fetch(path);
  if (!answer.ok) return;
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  const sent = page.getElementById("sent");
  if (!sent) return;
  by("sent").replaceWith(sent);
  const today = all("[data-today]");
  [...page.querySelectorAll("[data-today]")].forEach((one, at) => today[at] && today[at].replaceWith(one));
  const steps = (/** @type {Document} */ from) => [...from.querySelectorAll("[data-step]")].map((one) => /** @type {HTMLElement} */ (one).dataset.step).join(" ");
  by("newer").hidden = !page.getElementById("sheet") || steps(page) === steps(document);
}

async function drain() {
  const due = () => state.waiting.filter((line) => !line.why).slice(0, AT_ONCE);
  if (sending || ended || !due().length) return;
  sending = true;
  let kept = 0;
  try {
    while (due().length) {
      const answer = await fetch(`${path}/lines`, {
        method: "POST", headers: { "Content-Type": "application/json", "X-Patient-Fox": "household" }, body: JSON.stringify({ lines: due() }),
      });
      if (answer.status === 404) {
        ended = true;
        by("ended").hidden = false;
        break;
      }
      if (!answer.ok) throw new Error(String(answer.status));
      for (const { id, why } of await answer.json()) {
        const line = state.waiting.find((one) => one.id === id); // gone, where it was taken back meanwhile
        if (why && line) line.why = why;
        if (!why) kept += 1;
        state.waiting = state.waiting.filter((line) => line.id !== id || line.why);
      }
      keep();
      drawn();
    }
    if (kept) say(`Sent: ${kept}. Thank you.`);
    if (kept) await refresh();
  } catch (error) {
    const why = error instanceof TypeError ? "No signal." : "The school cannot take it just now.";
    say(`${why} It waits on this phone, and goes by itself.`);
  } finally {
    sending = false;
    drawn();
  }
}

async function takeBack(/** @type {HTMLElement} */ key) {
  try {
    const answer = await fetch(`${path}/lines/${key.dataset.back}/away`, { method: "POST", headers: { "X-Patient-Fox": "household" } });
    if (!answer.ok) throw new Error(String(answer.status));
    say("Taken back.");
    await refresh();
  } catch {
    say("That needs a signal. Try again later, or tell your trainer.");
  }
}

document.addEventListener("click", (event) => {
  const key = /** @type {HTMLElement} */ (event.target).closest("button");
  if (!key) return;
  if (press(event, days.value)) {
    draft();
  } else if (key.id === "send-key") {
    state.waiting.push(...pressed().map((line) => ({ id: crypto.randomUUID(), ...line })));
    clear();
    days.selectedIndex = 0; // what comes next is mostly of today
    draft();
    drawn();
    drain();
  } else if (key.dataset.drop) {
    state.waiting = state.waiting.filter((line) => line.id !== key.dataset.drop);
    keep();
    drawn();
  } else if (key.dataset.back) takeBack(key);
});
if (days) {
  for (let ago = 0; ago < 7; ago++) {
    const date = new Date(`${dayOf(ago)}T12:00`);
    const name = ["Today", "Yesterday"][ago] || date.toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" });
    days.add(new Option(name, dayOf(ago)));
  }
  for (const one of all("[data-script]")) one.hidden = false;
  recall();
  draft();
  drawn();
  drain();
  document.addEventListener("input", (event) => {
    if (event.target === days) for (const round of all("[data-round]")) round.dataset.day = days.value;
    draft();
  });
  addEventListener("online", drain);
  document.addEventListener("visibilitychange", () => document.hidden || drain());
  setInterval(drain, AGAIN);
}

// The page stays readable without a signal: the worker keeps it, once it was there.
if (navigator.serviceWorker) {
  navigator.serviceWorker.register("/h/sw.js").then(async () => {
    const own = await navigator.serviceWorker.ready;
    if (navigator.onLine) own.active.postMessage({ keep: path });
  });
}
