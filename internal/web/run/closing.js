// After a block: what is asked then, what comes next, and the end.
import { board, happened, inTurn, once } from "./board.js";
import { $, on, root, show, text } from "./draw.js";
import { chips, options, problem } from "./form.js";
import { carried, dated, fetchPack } from "./packs.js";
import { choice } from "./setup.js";
import { changed, now, state } from "./state.js";

async function closing() {
  const { view } = await state.core.ask("view", null, now());
  text("closing-logged", view.closing.logged);
  text("closing-pieces", view.closing.pieces);
  $("left").placeholder = view.closing.left;
  $("take").hidden = !view.closing.waiting;
  text("take-label", view.closing.waiting);
  $("take-box").checked = true;
  if (!$("tags").value) $("tags").value = view.closing.tags;
  const { setup } = await state.core.ask("setup", choice(), now());
  chips($("tag-words"), $("tags"), setup.how);
  state.parts = [...(view.sheet.parts || []), ...(await due(view))];
  options($("part"), [...state.parts.map((/** @type {Part} */ part, /** @type {number} */ i) => ({ id: String(i), name: part.name })), { id: "same", name: "The same once more" }], next(view));
  $("part-field").hidden = !state.parts.length;
  if (!$("reason").dataset.chosen) $("reason").value = view.closing.reason;
  onward();
  problem($("closing"), null);
  show("closing");
  $("closing-title").focus();
}

// due are the dog's other skills that this device carries, those worked longest ago first; what this session worked comes last.
async function due(/** @type {View} */ view) {
  const planned = new Set((view.sheet.parts || []).map(({ plan }) => plan));
  const worked = state.session.packs.map(({ plan }) => plan);
  const rows = (await carried()).filter((/** @type {any} */ row) => row.dog === view.dog && !row.finished && !planned.has(row.plan));
  rows.sort((/** @type {any} */ a, /** @type {any} */ b) => worked.lastIndexOf(a.plan) - worked.lastIndexOf(b.plan));
  return rows.map((/** @type {any} */ row) => ({ plan: row.plan, name: row.skill, step: "" }));
}

// next is what is offered first: what the session's plan brings, the side whose turn it is, else the same once more.
function next(/** @type {View} */ view) {
  const parts = view.sheet.parts || [];
  const first = state.session.sheet ? 0 : parts.findIndex((part) => part.first);
  return parts.length && first >= 0 ? String(first) : "same";
}

// chosen is what comes next, null for the same once more.
function chosen() {
  return (state.parts && state.parts[Number($("part").value)]) || null;
}

// onward makes the large key go on with the plan while a part of it is chosen, else end the session.
function onward() {
  const on = !$("part-field").hidden && $("part").value !== "same";
  $("closing-another").classList.toggle("main", on);
  $("closing-end").classList.toggle("main", !on);
}

async function close(/** @type {any} */ end) {
  const t = now();
  const answer = await state.core.ask("close", {
    unlogged: $("unlogged").value, left: $("left").value, next: $("next").value, reason: $("reason").value, tags: $("tags").value,
    take: !$("take").hidden && $("take-box").checked, end, leave: !end && chosen() !== null && chosen().plan !== state.view.plan,
  }, t);
  problem($("closing"), answer.problem);
  if (answer.problem) return;
  await happened(answer.drafts, t);
  if (!end) return await another();
  await ends();
}

// ends puts the session by as over.
export async function ends() {
  await changed({ ended: true });
  await leaves();
  over();
}

// takes takes a plan's pack for a block: the newest, or the one that this device carries.
export async function takes(/** @type {string} */ plan) {
  /** @type {Pack | undefined} */
  let pack;
  try {
    pack = await fetchPack(plan);
  } catch {
    // then the one that this device carries
  }
  if (!pack && plan !== state.view.plan) pack = (state.session.all || []).find((/** @type {any} */ p) => p.plan === plan) || (await state.keep.get("packs", plan));
  if (!pack) return;
  // Nothing is switched before the core has taken the pack.
  await state.core.ask("renew", dated(pack), now());
  await changed({ packs: [...state.session.packs, pack] });
}

// another begins the next block, on the newest version of its plan where the server can be asked; of a planned
// session the part that was chosen.
async function another() {
  const part = chosen();
  const plan = part ? part.plan : state.view.plan;
  await takes(plan);
  await changed({ plan });
  const t = now();
  const wanted = part ? { ...choice(), food: "", step: part.step || "", mode: part.mode || "train", finish: Boolean(part.finish) } : choice();
  const { drafts } = await state.core.ask("begin", wanted, t);
  await happened(drafts, t);
  $("unlogged").value = $("left").value = $("next").value = "";
  root.querySelector(".more").open = false;
  board();
}

// leaves puts by how the session left its plans, for the next one before the server knows of it.
async function leaves() {
  const { packs } = await state.core.ask("after", null, now());
  for (const pack of packs || []) await state.keep.put("packs", { ...pack, at: Date.now(), left: state.session.id });
}

export async function over() {
  if (state.beside) state.beside.stop();
  const { view } = await state.core.ask("view", null, now());
  text("over-summary", view.closing.summary);
  text("over-next", view.closing.next);
  $("review").href = `/sessions/${state.session.id}`;
  if (state.leave) state.leave();
  state.senses.rest();
  show("over");
  $("over-title").focus();
}

on($("part"), "change", onward);
on($("reason"), "change", () => ($("reason").dataset.chosen = "yes"));
on($("end"), "click", () => inTurn(async () => (state.view.helps ? location.assign("/") : closing())));
on($("closing-back"), "click", board);
on($("closing-another"), "click", () => once(() => close(false)));
on($("closing-end"), "click", () => once(() => close(true)));
on(root, "leave", (/** @type {any} */ { detail }) => {
  if (detail) {
    $("reason").value = detail;
    $("reason").dataset.chosen = "yes";
  }
  return inTurn(closing);
});
