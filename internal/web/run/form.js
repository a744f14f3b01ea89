// Parts of the Run screen's panels: fields with what is wrong beside them, words to touch, numbers without a keyboard.
import { $ } from "./draw.js";

export function options(select, list, value, empty) {
  select.replaceChildren();
  if (empty) select.append(new Option(empty, ""));
  for (const { id, name } of list) select.append(new Option(name, id));
  select.value = value;
}

export function item(text) {
  const li = document.createElement("li");
  li.textContent = text;
  return li;
}

// problem shows what is wrong beside its field, and clears the others.
export function problem(form, p) {
  for (const field of form.querySelectorAll(".field")) {
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
const words = (typed) => typed.split(",").map((word) => word.trim()).filter(Boolean);

// chips are words to touch: they stand in an input, beside what is typed there.
export function chips(row, input, list) {
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
export function stepped(root) {
  for (const input of root.querySelectorAll("input[data-steps]")) {
    const label = $(input.id).labels[0].textContent.replace("?", "").toLowerCase();
    const key = (by, sign) => {
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
