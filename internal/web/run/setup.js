// Before a session: what the choices made so far lead to.
import { $, on, show, text } from "./draw.js";
import { chips, item, options } from "./form.js";
import { dated } from "./packs.js";
import { state } from "./state.js";

// choice is what was chosen there, as typed.
export const choice = () => ({
  mode: $("mode").value, place: $("place").value, handler: $("handler").value, step: $("start-step").dataset.own || "", pieces: $("pieces").value,
  food: $("food").dataset.own || "", cleared_by: $("cleared-by").value, tags: $("how-words").value,
});

async function setup() {
  const { setup: s } = await state.core.ask("setup", choice(), 0);
  $("setup-dog").textContent = s.dog;
  $("setup-skill").textContent = s.skill;
  $("setup-start").textContent = s.start;
  $("setup-step").textContent = s.step;
  $("start-step").value = s.step_id;
  $("setup-pay").replaceChildren(...(s.pay || []).map((/** @type {string} */ line) => item(line)));
  const cautions = s.cautions || [];
  const said = JSON.stringify(cautions);
  if ($("setup-cautions").dataset.said !== said) $("setup-cautions").replaceChildren(...cautions.map((/** @type {string} */ line) => item(line)));
  $("setup-cautions").dataset.said = said;
  $("setup-cautions").hidden = !cautions.length;
  $("ruled").hidden = !s.ruled;
  text("ruled-why", s.ruled ? s.ruled.why : "");
  text("ruled-instead", s.ruled ? s.ruled.instead : "");
  $("start-step").disabled = s.mode === "place" || s.mode === "probe";
  const foods = s.foods || [];
  $("food-field").hidden = !foods.length;
  options($("food"), foods, foods.some((/** @type {any} */ f) => f.id === $("food").dataset.own) ? $("food").dataset.own : (foods[0] || {}).id || "");
  return s;
}

// stillOpen says which session of another plan this device has begun and not ended.
async function stillOpen() {
  const open = (await state.keep.all("sessions")).find((/** @type {Session} */ s) => !s.ended);
  $("still-open").hidden = !open;
  if (!open) return;
  $("still-open-name").textContent = `${open.packs[0].dog_name} · ${open.packs[0].skill_name}`;
  $("still-open-link").href = `/run?plan=${open.plan}&session=${open.id}`;
}

export async function prepare(/** @type {Pack} */ pack, /** @type {any} */ planned) {
  await stillOpen();
  await state.core.ask("open", dated(pack), 0);
  if (planned) await state.core.ask("follow", planned.sheet, 0);
  const at = (planned && planned.sheet.place) || pack.last_place;
  const first = (await state.core.ask("setup", { place: at, handler: (planned && planned.sheet.handler) || "" }, 0)).setup;
  options($("place"), first.places || [], at, "Not said");
  if (first.pieces) $("pieces").value = first.pieces;
  $("setup-then").hidden = !first.then;
  $("setup-then").textContent = first.then || "";
  const opens = planned && planned.sheet.plan.blocks[0];
  if (opens && opens.chosen) $("start-step").dataset.own = opens.step;
  options($("handler"), first.people || [], first.handler);
  options($("start-step"), first.steps, first.step_id);
  options($("mode"), first.modes, first.mode);
  $("no-place").hidden = Boolean(first.places && first.places.length);
  chips($("how"), $("how-words"), first.how);
  $("setup-right").replaceChildren(...(first.right || []).map((/** @type {string} */ line) => item(line)));
  document.title = `${first.dog} · ${first.skill}`;
  await setup();
  show("setup");
  state.ready = performance.now();
}

const changed = (/** @type {any} */ event) => {
  if (event.target.id === "start-step" || event.target.id === "food") event.target.dataset.own = event.target.value;
  return setup();
};
for (const id of ["place", "handler", "start-step", "mode", "food", "how-words"]) on($(id), "change", changed);
