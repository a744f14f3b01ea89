// Before a session: what the choices made so far lead to.
import { uuid } from "./db.js";
import { $, on, show, text } from "./draw.js";
import { chips, item, options } from "./form.js";
import { dated } from "./packs.js";
import { state } from "./state.js";

const SHOWN = 2; // cautions; the others are folded
const NEW = "new"; // a place that nobody has named yet
const placeID = uuid();

// choice is what was chosen there, as typed.
export const choice = () => ({
  mode: $("mode").value, place: $("place").value, place_name: $("place-name").value, place_id: placeID, handler: state.session && !state.session.ended ? state.session.handler : $("handler").value, step: $("start-step").dataset.own || "", pieces: $("pieces").value,
  holds: $("first-holds").value, feeds: $("first-feeds").value, ready: $("ready").checked, deck: $("deck").checked, quota: $("quota").value, food: $("food").dataset.own || "", cleared_by: $("cleared-by").value, tags: $("how-words").value,
});

async function setup() {
  const { setup: s } = await state.core.ask("setup", choice(), 0);
  $("setup-dog").textContent = s.dog;
  $("setup-skill").textContent = s.skill;
  $("setup-start").textContent = s.start;
  text("setup-chance", s.chance || "");
  $("setup-chance").hidden = !s.chance;
  text("setup-trying", s.trying || "");
  $("setup-trying").hidden = !s.trying;
  $("setup-step").textContent = s.step;
  steps(s);
  $("place-name-field").hidden = s.place !== NEW;
  $("setup-pay").replaceChildren(...(s.pay || []).map((/** @type {string} */ line) => item(line)));
  const cautions = s.cautions || [];
  const said = JSON.stringify(cautions);
  if ($("setup-cautions").dataset.said !== said) {
    $("cautions-first").replaceChildren(...cautions.slice(0, SHOWN).map((/** @type {string} */ line) => item(line)));
    $("cautions-rest").replaceChildren(...cautions.slice(SHOWN).map((/** @type {string} */ line) => item(line)));
    text("cautions-count", cautions.length === SHOWN + 1 ? "One more caution" : `${cautions.length - SHOWN} more cautions`);
    $("cautions-more").hidden = cautions.length <= SHOWN;
  }
  $("setup-cautions").dataset.said = said;
  $("setup-cautions").hidden = !cautions.length;
  $("ruled").hidden = !s.ruled;
  text("ruled-why", s.ruled ? s.ruled.why : "");
  text("ruled-instead", s.ruled ? s.ruled.instead : "");
  modes(s);
  $("start-step").disabled = ["place", "probe", "rehearse"].includes(s.mode);
  const foods = (s.foods || []).length ? [...s.foods, ...s.beside] : [];
  $("food-field").hidden = !foods.length;
  options($("food"), foods, foods.some((/** @type {any} */ f) => f.id === $("food").dataset.own) ? $("food").dataset.own : (foods[0] || {}).id || "");
  return s;
}

// modes lists what the session can be for, with whoever handles.
function modes(/** @type {Setup} */ s) {
  const drawn = JSON.stringify(s.modes);
  if ($("mode").dataset.drawn !== drawn) options($("mode"), s.modes, s.mode);
  $("mode").dataset.drawn = drawn;
  $("mode").value = s.mode;
}

// steps lists where it can start, in their groups, with the one that is advised or chosen.
function steps(/** @type {Setup} */ s) {
  const drawn = JSON.stringify(s.steps);
  if ($("start-step").dataset.drawn !== drawn) {
    $("start-step").dataset.drawn = drawn;
    $("start-step").replaceChildren();
    let group = $("start-step");
    for (const step of s.steps) {
      if (step.group && group.label !== step.group) {
        group = Object.assign(document.createElement("optgroup"), { label: step.group });
        $("start-step").append(group);
      }
      group.append(new Option(step.name, step.id));
    }
  }
  $("start-step").value = s.step_id;
}

// stillOpen says which session of another plan this device has begun and not ended.
async function stillOpen() {
  const open = (await state.keep.all("sessions")).find((/** @type {Session} */ s) => !s.ended);
  $("still-open").hidden = !open;
  if (!open) return;
  $("still-open-name").textContent = `${open.packs[0].dog_name} · ${open.packs[0].skill_name}`;
  $("still-open-link").href = `/run?plan=${open.plan}&session=${open.id}`;
}

// The device remembers with which plans a deck is dealt.
let plan = "";
const dealt = async () => /** @type {string[]} */ (((await state.keep.get("meta", "dealt")) || {}).plans || []);
on($("deck"), "change", async () => {
  const others = (await dealt()).filter((one) => one !== plan);
  await state.keep.put("meta", { name: "dealt", plans: $("deck").checked ? [...others, plan] : others });
});

export async function prepare(/** @type {Pack} */ pack, /** @type {any} */ planned) {
  await stillOpen();
  await state.core.ask("open", dated(pack), 0);
  if (planned) await state.core.ask("follow", planned.sheet, 0);
  const at = (planned && planned.sheet.place) || pack.last_place;
  const first = (await state.core.ask("setup", { place: at, handler: (planned && planned.sheet.handler) || "" }, 0)).setup;
  options($("place"), [...(first.places || []), { id: NEW, name: "A new place …" }], at, "Not said");
  if (first.pieces) $("pieces").value = first.pieces;
  $("setup-then").hidden = !first.then;
  $("setup-then").textContent = first.then || "";
  const opens = planned && planned.sheet.plan.blocks[0];
  if (opens && opens.chosen) $("start-step").dataset.own = opens.step;
  $("deck-field").hidden = !first.cards;
  text("deck-label", `Deal the mixed deck: ${first.cards} cards`);
  plan = pack.plan;
  $("deck").checked = (await dealt()).includes(plan);
  $("quota-field").hidden = !(pack.tracks || []).length;
  options($("handler"), first.people || [], first.handler);
  for (const role of ["first-holds", "first-feeds"]) options($(role), first.people || [], "", "The handler");
  $("roles").hidden = (first.people || []).length < 2;
  $("mode").replaceChildren(); // what another plan's session was for
  $("mode").dataset.drawn = "";
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
on($("place"), "change", () => $("place").value === NEW && $("place-name").focus());
for (const id of ["place", "place-name", "handler", "start-step", "mode", "food", "how-words"]) on($(id), "change", changed);
