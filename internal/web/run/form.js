// Parts of the Run screen's panels: fields with what is wrong beside them, words to touch, numbers without a keyboard.
import { $, all } from "./draw.js";

export function options(/** @type {HTMLSelectElement} */ select, /** @type {any[]} */ list, /** @type {any} */ value, /** @type {string} */ empty = "") {
  select.replaceChildren();
  if (empty) select.append(new Option(empty, ""));
  for (const { id, name } of list) select.append(new Option(name, id));
  select.value = value;
}

export function item(/** @type {string} */ text) {
  const li = document.createElement("li");
  li.textContent = text;
  return li;
}

// problem shows what is wrong beside its field, and clears the others.
export function problem(/** @type {HTMLFormElement} */ form, /** @type {any} */ p) {
  for (const field of all(".field", form)) {
    const input = field.querySelector("input, select, textarea");
    const text = field.querySelector(".problem");
    const mine = Boolean(p && input && input.name === p.field);
    field.classList.toggle("bad", mine);
    if (input && mine) input.setAttribute("aria-invalid", "true");
    else if (input) input.removeAttribute("aria-invalid");
    if (text) text.textContent = mine ? p.text : "";
    if (mine) input.focus();
  }
}

// words reads a list with commas between.
const words = (/** @type {string} */ typed) => typed.split(",").map((word) => word.trim()).filter(Boolean);

// chips are words to touch: they stand in an input, beside what is typed there.
export function chips(/** @type {HTMLElement} */ row, /** @type {any} */ input, /** @type {string[]} */ list) {
  const keys = list.map((word) => {
    const key = Object.assign(document.createElement("button"), { type: "button", className: "btn small", textContent: word });
    key.addEventListener("click", () => {
      const now = words(input.value);
      input.value = (now.includes(word) ? now.filter((one) => one !== word) : [...now, word]).join(", ");
      input.dispatchEvent(new Event("change", { bubbles: true }));
    });
    return key;
  });
  const draw = () => {
    for (const key of keys) key.setAttribute("aria-pressed", String(words(input.value).includes(key.textContent)));
  };
  input.onchange = draw; // one row at a time
  row.replaceChildren(...keys);
  draw();
}

// stepped puts a key for one less and one for one more beside each number that a thumb gives; they begin at what the
// field expects.
export function stepped(/** @type {ParentNode} */ root) {
  for (const input of all("input[data-steps]", root)) {
    const label = $(input.id).labels[0].textContent.replace("?", "").trim().replace(/\s+/g, " ").toLowerCase();
    const key = (/** @type {number} */ by, /** @type {string} */ sign) => {
      const button = Object.assign(document.createElement("button"), { type: "button", className: "btn", textContent: sign });
      button.setAttribute("aria-label", `${by < 0 ? "One less" : "One more"}: ${label}`);
      button.addEventListener("click", () => {
        const from = Number.parseInt(input.value || input.placeholder, 10) || 0;
        input.value = String(Math.max(0, from + by));
        input.dispatchEvent(new Event("input", { bubbles: true }));
      });
      return button;
    };
    const row = Object.assign(document.createElement("span"), { className: "stepped" });
    input.replaceWith(row);
    row.append(key(-1, "−"), input, key(1, "+"));
  }
}

// moment writes a day, and an hour where one is asked for, as the pages do, whatever the device's own language is.
export const moment = (/** @type {number | string} */ at, /** @type {Intl.DateTimeFormatOptions} */ parts) => new Date(at).toLocaleString("en-GB", parts);
