// How keys are pressed: by a thumb, on a keyboard, on a remote that acts as one, or on the simulated remote.
import { $, failed, root } from "./draw.js";

const usual = {
  " ": "main", 0: "void", p: "pay", z: "undo", b: "break", ArrowDown: "easier", ArrowUp: "harder", c: "cue", o: "offer", l: "left", f: "refused", n: "note",
  PageDown: "main", PageUp: "missed",
};
const outcomes = { 1: "met", 2: "late", 3: "helped", 4: "missed" }; // where the row above the large key has no such key
const jobs = [
  ["main", "Start and mark"], ["missed", "Missed"], ["late", "Late"], ["helped", "Helped"], ["pay", "Pay"], ["undo", "Undo"], ["break", "Break"], ["easier", "Easier"],
];
let own = {}; // key → job, as set on this device
let learning = "";

export function hands({ press, note, running }) {
  // A press that opens another panel ends there: what then lies under the thumb is not pressed by letting go.
  let began = null;
  root.addEventListener("pointerdown", (event) => (began = event.target.closest("section")), true);
  root.addEventListener("click", (event) => {
    if (!event.detail || event.target.closest("section") === began) return;
    event.preventDefault();
    event.stopPropagation();
  }, true);
  // A key answers when it is touched, not when it is let go, and takes no focus from the keyboard.
  root.addEventListener("pointerdown", (event) => {
    const key = event.target.closest("[data-key]");
    if (!key || key.disabled || event.button > 0) return;
    event.preventDefault();
    press(key.dataset.key);
  });
  root.addEventListener("click", (event) => {
    const key = event.target.closest("[data-key]");
    if (key && !key.disabled && event.detail === 0) press(key.dataset.key); // from the keyboard
  });
  addEventListener("keydown", (event) => {
    if (learning) return learn(event);
    if (!running() || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.closest && event.target.closest("input, textarea, select, summary, [data-site]")) return;
    const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const shown = root.querySelector(`.pad [data-kbd="${CSS.escape(name)}"]`);
    const job = own[event.key] || (shown && shown.dataset.key) || usual[name] || outcomes[name];
    if (!job) return;
    if (event.key === " " && event.target.closest && event.target.closest("button, a")) return; // that button's own press
    event.preventDefault();
    if (event.repeat) return;
    if (job === "note") return note(true);
    press(job);
  });
  // In the pocket nothing is touched by mistake: only a long press comes back.
  let held = 0;
  const away = $("pocket-off");
  for (const start of ["pointerdown", "keydown"]) away.addEventListener(start, () => (held = held || setTimeout(() => ($("pocket").hidden = true), 900)));
  for (const end of ["pointerup", "pointercancel", "pointerleave", "keyup"]) away.addEventListener(end, () => (held = clearTimeout(held) || 0));
}

// remote reads which key of a remote does what, and listens to the simulated one.
export async function remote(keep) {
  const row = await keep.get("meta", "remote");
  own = (row && row.keys) || {};
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
  learnt = async (key) => {
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

let learnt = () => {};

function learn(event) {
  event.preventDefault();
  event.stopPropagation();
  Promise.resolve(learnt(event.key)).catch(failed);
}

const named = (key) => (key === " " ? "Space" : key);
const standard = (job) => Object.keys(usual).filter((key) => usual[key] === job).map(named).join(", ") || "none";
