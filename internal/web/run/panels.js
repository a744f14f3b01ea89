// What stands beside the board: notes, more keys, what was behind the last trial, the outline, tallies, work in turn,
// the exit plan, and how the screen is. Each asks the core and shows what it answers.
import { board, draw, happened, inTurn, mainKey, once, press, tick } from "./board.js";
import { takes } from "./closing.js";
import { $, all, drawMore, failed, heard, on, panel, root, show, text } from "./draw.js";
import { item, options, problem } from "./form.js";
import { carried } from "./packs.js";
import { choice } from "./setup.js";
import { changed, now, state } from "./state.js";

function keep(/** @type {string} */ method, /** @type {any} */ arg) {
  const t = now();
  return inTurn(async () => {
    const { drafts, problem: wrong } = await state.core.ask(method, arg, t);
    if (!wrong) await happened(drafts, t);
    return wrong;
  });
}

// sets changes what the next trial is of, and logs nothing.
const sets = (/** @type {string} */ method, /** @type {any} */ arg) => inTurn(async () => draw((await state.core.ask(method, arg, now())).view));

// note opens the note, or closes it and hands the keyboard back to the large key; what is typed waits in it.
export function note(/** @type {any} */ open) {
  $("note").hidden = !open;
  root.querySelector(".more").open = false;
  if (open) $("note-text").focus();
  else mainKey();
}

on($("reckoning"), "toggle", async () => {
  if (!$("reckoning").open) return;
  const { lines } = await state.core.ask("reckoning", null, now());
  $("reckoning-lines").replaceChildren(...(lines || []).map((/** @type {string} */ line) => item(line)));
});

// More keys: what is in the hand, who handles, and what was behind the last one.
on(root.querySelector(".more"), "toggle", async () => {
  if (state.view) drawMore(state.view);
  if (!root.querySelector(".more").open || !state.session) return;
  // Before anything is waited for: what is chosen meanwhile stays.
  for (const select of root.querySelectorAll("[data-tell]")) select.value = "";
  $("tells-care").hidden = true;
  const { setup: s } = await state.core.ask("setup", choice(), now());
  const foods = [...((s.foods || []).length ? s.foods : [{ id: "", name: "Food" }]), ...s.beside];
  options($("hand"), foods, state.view.food || foods[0].id);
  options($("hand-turn"), [{ id: "", name: "Nothing else" }, ...foods.filter((/** @type {any} */ one) => one.id)], state.view.pay.turn);
  options($("handles"), s.people || [], state.session.handler);
  for (const role of ["holds", "feeds"]) {
    options($(role), s.people || [], state.view.roles[role] || "", "The handler");
    $(role).closest(".field").hidden = (s.people || []).length < 2;
  }
  interludes(await carried());
});
// interludes offers three trials of the dog's other skills, each by one press.
function interludes(/** @type {any[]} */ rows) {
  const list = rows.filter((row) => row.dog === state.view.dog && !row.finished).slice(0, 4);
  $("interludes").hidden = !list.length || !state.view.between;
  $("interludes").replaceChildren(
    ...list.map((row) => {
      const key = Object.assign(document.createElement("button"), { type: "button", className: "key", textContent: `3 × ${row.skill}, then back` });
      on(key, "click", () => once(() => beside(row.plan, { interlude: 3 })));
      return key;
    }),
  );
}

// beside begins a block of another plan next to the one that is worked.
async function beside(/** @type {string} */ plan, /** @type {any} */ how) {
  const t = now();
  await takes(plan);
  const answer = await state.core.ask("begin", { ...choice(), step: "", mode: "train", food: "", ...how }, t);
  problem($("turn"), answer.problem);
  if (answer.problem) return;
  await happened(answer.drafts, t);
  more.open = false;
  board();
}

// A use of it ends on the board: the next key is the board's.
const more = root.querySelector(".more");
// In the same frame as it opens, so that nothing moves under the thumb afterwards.
new MutationObserver(() => $("board").classList.toggle("opened", more.open)).observe(more, { attributeFilter: ["open"] });
more.querySelector("summary").addEventListener("click", (/** @type {MouseEvent} */ event) => event.detail && mainKey()); // by touch
more.querySelector("summary").addEventListener("pointerdown", (/** @type {PointerEvent} */ event) => event.preventDefault());
more.addEventListener("click", (/** @type {any} */ event) => {
  const key = event.target.closest("[data-key]");
  if (key && ["state:3", "state:4"].includes(key.dataset.key)) more.open = false; // what is offered then stands on the board
  if (key && !event.detail) mainKey(); // by a keyboard; a touch takes no focus
});
// A choice in it hands the keyboard back to the large key, so Escape closes it from anywhere.
root.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
  if (event.key !== "Escape" || !more.open) return;
  more.open = false;
  mainKey();
});
for (const select of more.querySelectorAll("select")) select.addEventListener("change", mainKey);
on($("worked-list"), "click", async (/** @type {any} */ event) => {
  const key = event.target.closest("[data-alter]");
  if (!key) return;
  const [setting, by] = key.dataset.alter.split(" ");
  await sets("alter", { key: setting, by: Number(by) });
});
on($("worked-once"), "change", () => sets("once", $("worked-once").checked));
on($("top-up-add"), "click", async () => {
  const wrong = await keep("topup", $("more-pieces").value);
  problem(more, wrong);
  if (wrong) return;
  $("more-pieces").value = "";
  more.open = false;
  mainKey();
});
for (const hand of ["hand", "hand-turn"]) on($(hand), "change", () => keep("food", { food: $("hand").value, turn: $("hand-turn").value }));
// handsOver is of the trials from here on; who logs stays the same. Whose level it is may go with it.
async function handsOver(/** @type {string} */ handler) {
  const t = now();
  const { drafts, problem: wrong } = await state.core.ask("hands", handler, t);
  problem(more, wrong);
  if (wrong) {
    $("handles").value = state.session.handler;
    return;
  }
  await changed({ handler }).catch((error) => {
    $("handles").value = state.session.handler;
    throw error;
  });
  await happened(drafts, t);
}
for (const role of ["holds", "feeds"]) {
  on($(role), "change", async () => {
    const wrong = await keep("roles", { ...state.view.roles, [role]: $(role).value });
    problem(more, wrong);
  });
}
on($("handles"), "change", () => {
  const handler = $("handles").value;
  return inTurn(() => handsOver(handler));
});
for (const key of root.querySelectorAll("[data-where]")) {
  on(key, "click", async () => {
    await keep("tell", { what: "where", value: key.dataset.where });
    more.open = false;
    mainKey();
  });
}
for (const select of root.querySelectorAll("[data-tell]")) {
  on(select, "change", () => {
    if (select.id === "tell-after") $("tells-care").hidden = !("care" in select.selectedOptions[0].dataset);
    return keep("tell", { what: select.dataset.tell, value: select.value });
  });
}
for (const key of root.querySelectorAll("[data-tells]")) {
  on(key, "click", async () => {
    await keep("tell", { what: "broke", value: key.dataset.tells });
    await keep("tell", { what: "source", value: "set-up" });
    root.querySelector(".more").open = false;
    mainKey();
  });
}

const REACH = 40; // px from a site within which a thumb means it

// nearest is the site on the outline that a thumb is nearest to: those that lie close together share the room between them.
function nearest(/** @type {PointerEvent} */ { clientX, clientY }) {
  let found = null;
  let least = REACH;
  for (const spot of all("[data-site]", $("sites"))) {
    const { x, y, width, height } = spot.querySelector(".mark").getBoundingClientRect();
    const away = Math.hypot(x + width / 2 - clientX, y + height / 2 - clientY);
    if (away < least) {
      found = spot;
      least = away;
    }
  }
  return found;
}

// The site that is handled next, picked on the outline or beside it.
const pick = async (/** @type {any} */ event) => {
  const spot = event.type === "pointerdown" && event.currentTarget === $("body") ? nearest(event) : event.target.closest("[data-site]");
  if (!spot || (event.type === "keydown" && event.key !== "Enter" && event.key !== " ")) return;
  if (event.type === "click" && event.detail !== 0) return; // touched already
  event.preventDefault();
  event.stopPropagation();
  await sets("arm", { site: spot.dataset.site });
  if (event.type !== "pointerdown") mainKey();
};
// What was chosen by a keyboard is chosen: the next key is the board's, and Space begins the touch.
for (const id of ["visit", "parts", "beside"]) $(id).addEventListener("click", (/** @type {MouseEvent} */ event) => event.detail || mainKey());
for (const id of ["body", "site-others"]) {
  for (const way of ["pointerdown", "click", "keydown"]) on($(id), way, pick);
}

// turned goes on with the other side of the dog: back to its block, or with a new one.
async function turned() {
  const other = state.view.body?.other;
  if (!other) return;
  const t = now();
  let { drafts } = await state.core.ask("side", other.id, t);
  if (!drafts) {
    await takes(other.id);
    if (state.session.packs.at(-1)?.plan !== other.id) return text("body-says", "That side is not on this device, and there is no signal.");
    ({ drafts } = await state.core.ask("begin", { ...choice(), step: "", mode: "train", food: state.view.food }, t));
  }
  await changed({ plan: other.id });
  await happened(drafts, t);
}
on($("parts"), "click", (/** @type {any} */ event) => {
  const key = event.target.closest("[data-part]");
  if (key) return sets("arm", { part: key.getAttribute("aria-pressed") === "true" ? "" : key.dataset.part });
});
on($("other-side"), "click", () => inTurn(turned));

on($("note-open"), "click", () => note($("note").hidden));
on($("note-drop"), "click", () => note(false));
on($("note"), "keydown", (/** @type {any} */ event) => event.key === "Escape" && note(false));
on($("note-save"), "click", async () => {
  const wrong = await keep("note", $("note-text").value);
  problem($("note"), wrong);
  if (wrong) return;
  $("note-text").value = "";
  note(false);
});
on($("left"), "input", async () => {
  const { hint } = await state.core.ask("check", $("left").value, now());
  text("closing-pieces", hint || "");
});

on($("turn-open"), "click", async () => {
  const list = await carried();
  turnable = list;
  options($("turn-with"), list.map((row) => ({ id: row.plan, name: `${row.dog} · ${row.skill}` })), (list[0] || {}).plan || "");
  $("turn-none").hidden = list.length > 0;
  $("turn-begin").disabled = !list.length;
  sameDog();
  $("turn-steps").disabled = !(state.view.off || []).every((/** @type {string} */ key) => key !== "alternate");
  panel("turn");
});
/** @type {any[]} */
let turnable = [];

// sameDog lets an interlude be of the same dog alone.
function sameDog() {
  const row = turnable.find((one) => one.plan === $("turn-with").value);
  $("turn-three").disabled = !row || row.dog !== state.view.dog || !state.view.between;
}
on($("turn-with"), "change", sameDog);
on($("turn-three"), "click", () => once(() => beside($("turn-with").value, { interlude: 3 })));
on($("turn-back"), "click", board);
on($("turn-steps"), "click", () => {
  root.querySelector(".more").open = false;
  board();
  press("alternate");
});
on($("turn-begin"), "click", () => once(() => beside($("turn-with").value, { with: true })));

// What the states look like, each a key of its own.
async function looks() {
  const { setup: s } = await state.core.ask("setup", choice(), now());
  const states = (state.view.states || []).length ? state.view.states : state.view.row;
  const off = new Set(state.view.off || []);
  $("looks-list").replaceChildren(
    ...s.looks.map((/** @type {string} */ looks, /** @type {number} */ i) => {
      const { key, label } = /** @type {Button[]} */ (states)[i];
      const button = Object.assign(document.createElement("button"), { type: "button", className: "key look", disabled: off.has(key) });
      button.append(Object.assign(document.createElement("strong"), { textContent: label }), Object.assign(document.createElement("span"), { textContent: looks }));
      on(button, "click", () => shows(key));
      return button;
    }),
  );
  panel("looks");
}
function shows(/** @type {string} */ key) {
  more.open = false;
  board();
  press(key);
}
on($("looks-growl"), "click", () => shows("growl"));
on($("looks-back"), "click", board);
const opens = heard(looks);
root.addEventListener("click", (/** @type {any} */ event) => event.target.closest("[data-looks]") && opens(event));

on($("tally-open"), "click", () => panel("tally"));
on($("tally-back"), "click", board);
on($("tally-keep"), "click", async () => {
  const fields = ["met", "late", "helped", "missed"];
  const wrong = await keep("tally", Object.fromEntries(fields.map((f) => [f, $(`tally-${f}`).value])));
  problem($("tally"), wrong);
  if (wrong) return;
  for (const f of fields) $(`tally-${f}`).value = "";
  root.querySelector(".more").open = false;
  board();
});

on($("exit"), "click", async () => {
  // The exit plan opens whatever happens: only its lines may be missing.
  /** @type {string[]} */
  let lines = [];
  try {
    lines = (await state.core.ask("exits", null, now())).lines || [];
  } catch (error) {
    failed(error);
  }
  $("exits-lines").replaceChildren(...lines.map(item));
  const off = new Set(state.view.off || []);
  for (const key of all("[data-exit]")) key.disabled = off.has(key.dataset.exit);
  panel("exits");
});
for (const key of all("[data-exit]")) {
  on(key, "click", () => {
    if (key.dataset.exit === "stop") return root.dispatchEvent(new CustomEvent("leave", { detail: "stop" }));
    board();
    if (key.dataset.exit) press(key.dataset.exit);
  });
}

on($("ways-open"), "click", () => panel("ways"));
on($("ways-back"), "click", board);
on($("pocket-on"), "click", () => {
  show("board", "pocket");
  tick();
});
