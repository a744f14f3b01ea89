// How keys are pressed: by a thumb, on a keyboard, on a remote that acts as one, or on the simulated remote.
import { mainKey } from "./board.js";
import { $, failed, root } from "./draw.js";

/** @type {Record<string, string>} */
const usual = {
  " ": "main", 0: "void", p: "pay", z: "undo", b: "break", ArrowDown: "easier", ArrowUp: "harder", c: "cue", o: "offer", l: "left", f: "refused", n: "note",
  PageDown: "main", PageUp: "wrong", x: "let_go", g: "growl",
};
// What a key of a remote can do: a job by its name, or what has that number in the row above the large key.
const jobs = [
  ["main", "Start and mark"], ["wrong", "Missed, pulled, worried"], ["late", "Slow"], ["helped", "Helped"], ["pay", "Pay"], ["undo", "Undo"], ["break", "Break"], ["easier", "Easier"], ["growl", "Growl or snap"], ["site", "Next site"], ["tool", "Next tool"],
  ...[1, 2, 3, 4, 5, 6, 7].map((n) => [String(n), `Key ${n} of the row`]),
];
/** @type {Record<string, string>} */
let own = {}; // key → job, as set on this device
let learning = "";

export function hands(/** @type {{ press: (key: string) => void, note: (open: boolean) => void, running: () => boolean }} */ { press, note, running }) {
  // A press that opens another panel, or makes the keys move, ends there: what then lies under the thumb is not pressed by letting go.
  const touched = "[data-key], [data-site]"; // these answer when they are touched
  /** @type {Element | null} */
  let began = null;
  let answered = false;
  root.addEventListener("pointerdown", (/** @type {any} */ event) => {
    began = event.target.closest("section");
    answered = Boolean(event.target.closest(touched));
  }, true);
  root.addEventListener("click", (/** @type {any} */ event) => {
    if (!event.detail || (event.target.closest("section") === began && !(answered && !event.target.closest(touched)))) return;
    event.preventDefault();
    event.stopPropagation();
  }, true);
  // A key answers when it is touched, not when it is let go, and takes no focus from the keyboard.
  root.addEventListener("pointerdown", (/** @type {any} */ event) => {
    const key = event.target.closest("[data-key]");
    if (!key || key.disabled || event.button > 0) return;
    event.preventDefault();
    press(key.dataset.key);
  });
  root.addEventListener("click", (/** @type {any} */ event) => {
    const key = event.target.closest("[data-key]");
    if (key && !key.disabled && event.detail === 0) press(key.dataset.key); // from the keyboard
  });
  addEventListener("keydown", (/** @type {any} */ event) => {
    if (learning) return learn(event);
    const back = event.key === "Escape" && [...root.querySelectorAll("[data-back]")].find((key) => !key.closest("[hidden]"));
    if (back) return back.click(); // out of a panel, to the board
    if (!running() || event.ctrlKey || event.metaKey || event.altKey) return;
    const over = (/** @type {string} */ what) => event.target.closest && event.target.closest(what);
    if (over("input, textarea")) return; // what is typed is text
    const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const numbered = (/** @type {string} */ n) => root.querySelector(`.pad [data-kbd="${CSS.escape(n)}"]`);
    const set = own[event.key];
    const shown = numbered(set && set.length === 1 ? set : name);
    const job = (set && set.length > 1 && set) || (shown && shown.dataset.key) || usual[name];
    if (!job) return;
    if (event.key === " " && over("button, a, [data-site]")) return; // that button's own press
    if (over("select")) {
      if (event.key.startsWith("Arrow")) return; // the list's own
      mainKey();
    }
    event.preventDefault();
    if (event.repeat) return;
    if (job === "note") return note(true);
    press(job);
  });
  // In the pocket nothing is touched by mistake: only a long press comes back.
  let held = 0;
  const away = $("pocket-off");
  for (const start of ["pointerdown", "keydown"]) away.addEventListener(start, () => (held = held || setTimeout(() => ($("pocket").hidden = true), 900)));
  for (const end of ["pointerup", "pointercancel", "pointerleave", "keyup"]) away.addEventListener(end, () => {
    clearTimeout(held);
    held = 0;
  });
}

// remote reads which key of a remote does what, and listens to the simulated one.
export async function remote(/** @type {import("./db.js").Keep} */ keep) {
  const row = await keep.get("meta", "remote");
  own = (row && row.keys) || {};
  for (const key of Object.keys(own)) if (own[key] === "missed") own[key] = "wrong"; // as it was called once
  const save = () => keep.put("meta", { name: "remote", keys: own });
  const list = () => {
    $("remote-keys").replaceChildren(
      ...jobs.map(([job, label]) => {
        const li = document.createElement("li");
        li.className = "flex items-center gap-3";
        const keys = Object.keys(own).filter((key) => own[key] === job);
        const words = Object.assign(document.createElement("p"), { className: "flex-1", textContent: `${label}: ${keys.map(named).join(", ") || standard(job)}` });
        const set = Object.assign(document.createElement("button"), { type: "button", className: "btn small", textContent: "Set" });
        set.setAttribute("aria-label", `Set a key: ${label}`);
        set.addEventListener("click", () => {
          learning = job;
          $("remote-said").textContent = `Press the key for “${label}” on the remote. Escape keeps it as it is.`;
        });
        li.append(words, set);
        return li;
      }),
    );
  };
  learnt = async (/** @type {string} */ key) => {
    if (key && key !== "Escape") own[key] = learning;
    $("remote-said").textContent = key && key !== "Escape" ? `${named(key)} is set.` : "Kept as it was.";
    learning = "";
    await save();
    list();
  };
  list();
  const simulated = new BroadcastChannel("patientfox-remote");
  simulated.onmessage = ({ data }) => dispatchEvent(new KeyboardEvent("keydown", { key: data.key, bubbles: true, cancelable: true }));
}

/** @type {(key: string) => Promise<void>} */
let learnt = async () => {};

function learn(/** @type {any} */ event) {
  event.preventDefault();
  event.stopPropagation();
  Promise.resolve(learnt(event.key)).catch(failed);
}

const named = (/** @type {string} */ key) => (key === " " ? "Space" : key);
const standard = (/** @type {string} */ job) => Object.keys(usual).filter((key) => usual[key] === job).map(named).join(", ") || "none";
