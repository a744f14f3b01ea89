// The Run screen: it draws what the core shows, keeps events before anything else, and computes
// nothing itself.
import { Core } from "./core.js";
import { Keep, uuid } from "./db.js";
import { Beside, join } from "./beside.js";
import { drawCarried } from "./carried.js";
import { $, root, text, drawView } from "./draw.js";
import { register } from "./field.js";
import { hands, remote } from "./hands.js";
import { panels } from "./panels.js";
import { Sender } from "./sender.js";
import { Senses } from "./senses.js";

const PATIENCE = 5000; // ms for the server before what is kept here is taken
const AFTER = 40; // ms for the screen to be drawn before the sending begins
const LONGEST = 6 * 3600 * 1000; // ms

const ask = new URLSearchParams(location.search);

const state = {
  core: null, keep: null, sender: null,
  session: null, // { id, plan, packs, by, handler, wall, ended }
  base: 0, // performance.now() at the session's zero
  view: null,
  queue: Promise.resolve(), // presses are answered one after another
  away: false, // another tab runs this session
  leave: null,
  logged: 0, // events since this page was opened
};
window.patientfox = state; // for the browser tests, which read how long the core took

const now = () => Math.max(0, Math.round(performance.now() - state.base));

function show(...ids) {
  for (const id of ["carried", "setup", "board", "exits", "turn", "tally", "ways", "pocket", "join", "closing", "over", "elsewhere", "message"]) $(id).hidden = !ids.includes(id);
}

function message(title, text) {
  $("message-title").textContent = title;
  $("message-text").textContent = text;
  show("message");
}

// --- before a session -------------------------------------------------------------------------

function options(select, list, value, empty) {
  select.replaceChildren();
  if (empty) select.append(new Option(empty, ""));
  for (const { id, name } of list) select.append(new Option(name, id));
  select.value = value;
}

const choice = () => ({ mode: $("mode").value, place: $("place").value, handler: $("handler").value, step: $("start-step").dataset.own || "", pieces: $("pieces").value, food: $("food").dataset.own || "", although: $("although").value });

async function setup() {
  const { setup: s } = await state.core.ask("setup", choice(), 0);
  $("setup-dog").textContent = s.dog;
  $("setup-skill").textContent = s.skill;
  $("setup-start").textContent = s.start;
  $("setup-step").textContent = s.step;
  $("start-step").value = s.step_id;
  $("setup-pay").replaceChildren(...(s.pay || []).map((line) => item(line)));
  const cautions = s.cautions || [];
  const said = JSON.stringify(cautions);
  if ($("setup-cautions").dataset.said !== said) $("setup-cautions").replaceChildren(...cautions.map((line) => item(line)));
  $("setup-cautions").dataset.said = said;
  $("setup-cautions").hidden = !cautions.length;
  $("ruled").hidden = !s.ruled;
  text("ruled-why", s.ruled ? s.ruled.why : "");
  text("ruled-instead", s.ruled ? s.ruled.instead : "");
  $("start-step").disabled = s.mode === "place" || s.mode === "probe";
  const foods = s.foods || [];
  $("food-field").hidden = !foods.length;
  options($("food"), foods, foods.some((f) => f.id === $("food").dataset.own) ? $("food").dataset.own : (foods[0] || {}).id || "");
  return s;
}

async function prepare(pack, planned) {
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
  $("setup-right").replaceChildren(...(first.right || []).map((line) => item(line)));
  document.title = `${first.dog} · ${first.skill}`;
  await setup();
  show("setup");
  state.ready = performance.now();
}

function item(text) {
  const li = document.createElement("li");
  li.textContent = text;
  return li;
}

// problem shows what is wrong beside its field, and clears the others.
function problem(form, p) {
  for (const field of form.querySelectorAll(".field")) {
    const input = field.querySelector("input, select, textarea");
    const text = field.querySelector(".problem");
    const mine = Boolean(p && input && input.name === p.field);
    field.classList.toggle("bad", mine);
    if (input) input.toggleAttribute("aria-invalid", mine);
    if (text) text.textContent = mine ? p.text : "";
    if (mine) input.focus();
  }
}

// beside looks for what other devices log in the same session.
async function beside() {
  await state.core.ask("device", state.device, now());
  const session = state.session;
  state.beside = new Beside({
    keep: state.keep, session, device: state.device,
    came: (events) => {
      state.queue = state.queue.then(async () => {
        if (state.session !== session) return;
        const { view } = await state.core.ask("apply", events, now());
        draw(view);
        if (view.phase === "over" && !session.ended) await ends();
      }).catch(broken);
      return state.queue;
    },
    gone: () => ($("gone-elsewhere").hidden = false),
  });
}

// comesIn brings this device into a session that another one runs.
async function comesIn(id) {
  const { joined, base } = await join(load, id);
  if (joined.ended) return message("This session is over", "Look back at it from the dog's page.");
  $("join-dog").textContent = joined.dog;
  options($("join-by"), joined.packs[0].people || [], joined.packs[0].person);
  panel("join");
  $("join-in").onclick = async () => {
    const at = Date.now();
    const packs = joined.packs.map((pack) => ({ ...pack, at }));
    state.session = { id, plan: joined.plan, packs, all: packs, by: $("join-by").value, handler: packs[0].person, wall: at, seen: 0, helps: true };
    state.base = base;
    await state.keep.put("sessions", state.session);
    await reopen(state.session);
    await beside();
    await happened([{ kind: "join", data: { offset: 0 } }], now());
    hold();
    board();
  };
}

async function begin(pack, planned) {
  if (state.busy) return;
  state.busy = true;
  try {
    const answer = await state.core.ask("begin", choice(), 0);
    problem($("setup"), answer.problem);
    if (answer.problem) return;
    const packs = planned ? planned.packs : [pack];
    state.session = { id: uuid(), plan: pack.plan, packs: [pack], all: packs, sheet: planned && planned.sheet, by: pack.person, handler: $("handler").value || pack.person, wall: Date.now() };
    state.base = performance.now();
    await state.keep.put("sessions", state.session);
    await happened(answer.drafts, 0);
    history.replaceState(null, "", `/run?plan=${pack.plan}&session=${state.session.id}`);
    await beside();
    hold();
    board();
  } finally {
    state.busy = false;
  }
}

// --- a running session ------------------------------------------------------------------------

// happened keeps drafts, shows what they lead to while they are being written down, then sends them.
async function happened(drafts, t) {
  if (!drafts || !drafts.length) return;
  const s = state.session;
  const events = state.keep.stamp(drafts, { session: s.id, t, by: s.by, handler: s.handler });
  const applied = state.core.ask("apply", events, t);
  const kept = state.keep.store(events);
  kept.catch(() => {}); // it is waited for below
  try {
    const { view } = await applied;
    state.logged += events.length;
    state.sender.counts(events.length);
    draw(view);
    if (await kept) draw(await restored()); // another tab took the numbers: read as they are kept
    setTimeout(() => state.sender.kick(), AFTER);
    $("full").hidden = true;
  } catch (error) {
    if (error.name !== "QuotaExceededError") throw error;
    $("full").hidden = false;
    draw(await restored()); // what is not kept is not shown as logged either
    state.sender.report();
  }
}

// reopen hands the core the session's packs, as it was opened and went on.
async function reopen(session) {
  await state.core.ask("open", dated(session.packs[0]), 0);
  if (session.sheet) await state.core.ask("follow", session.sheet, 0);
  for (const pack of session.packs.slice(1)) await state.core.ask("renew", dated(pack), 0);
  await state.core.ask("device", state.device, 0);
}

// restored reads the session anew from what is kept.
async function restored() {
  await reopen(state.session);
  const events = await state.keep.eventsOf(state.session.id);
  return (await state.core.ask("apply", events, now())).view;
}

function press(key) {
  const t = now();
  if (key === "main" && state.view && state.view.leave && state.view.phase === "recovering") {
    $("reason").value = "stop"; // it goes home
    return closing().catch(broken);
  }
  state.queue = state.queue
    .then(async () => {
      if (state.away || !state.session || $("board").hidden) return;
      const { drafts } = await state.core.ask("press", key, t);
      await happened(drafts, t);
    })
    .catch(broken);
}

function broken(error) {
  message("This page has to be opened anew", `What was logged is kept on this device. (${error.message})`);
}

function board() {
  show("board");
  state.senses.wake();
  text("end", state.session.helps ? "Leave" : "End");
  root.querySelector('[data-key="main"]').focus({ preventScroll: true });
  tick();
}

let ticking = 0;
function tick() {
  const mine = ++ticking;
  let last = 0;
  const frame = async (time) => {
    if ($("board").hidden || mine !== ticking) return;
    if (time - last > 90) {
      last = time;
      const { view } = await state.core.ask("view", null, now());
      draw(view);
    }
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
}

function draw(view) {
  if (state.senses) state.senses.feel(state.view, view);
  state.view = view;
  drawView(view);
  state.drawn = state.logged; // for the benchmark: what is logged stands on the screen
  if (view.leave && !state.left && view.phase !== "recovering") {
    state.left = true; // the warm-up said to go elsewhere
    closing().catch(broken);
  }
}

function told({ waiting, refused, reachable, status }) {
  let line = "All saved";
  if (waiting && status) line = `The server does not take it (${status}) · ${waiting} kept here`;
  else if (waiting && !reachable) line = `No signal · ${waiting} kept here`;
  else if (waiting) line = `${waiting} not saved yet`;
  if (refused.length) line += ` · ${refused.length} refused: ${refused[0].why}`;
  for (const node of document.querySelectorAll("[data-saved]")) {
    if (node.textContent !== line) node.textContent = line;
  }
  root.dataset.waiting = String(waiting);
  $("review").textContent = waiting ? "Look back (what waits is not in it yet)" : "Look back";
}

// --- after a block ----------------------------------------------------------------------------

async function closing() {
  const { view } = await state.core.ask("view", null, now());
  text("closing-logged", view.closing.logged);
  text("closing-pieces", view.closing.pieces);
  $("take").hidden = !view.closing.waiting;
  text("take-label", view.closing.waiting);
  $("take-box").checked = true;
  const parts = view.sheet.parts || [];
  options($("part"), [...parts.map((part, i) => ({ id: String(i), name: part.name })), { id: "same", name: "The same once more" }], parts.length ? "0" : "same");
  $("part-field").hidden = !state.session.sheet;
  state.parts = parts;
  onward();
  problem($("closing"), null);
  show("closing");
  $("closing-title").focus();
}

// chosen is the part of the plan that comes next, null for none of it.
function chosen() {
  return (state.session.sheet && state.parts[Number($("part").value)]) || null;
}

// onward makes the large key go on with the plan while a part of it is chosen, else end the session.
function onward() {
  const on = !$("part-field").hidden && $("part").value !== "same";
  $("closing-another").classList.toggle("main", on);
  $("closing-end").classList.toggle("main", !on);
}
$("part").addEventListener("change", onward);

async function close(end) {
  if (state.busy) return;
  state.busy = true;
  try {
    const t = now();
    const answer = await state.core.ask("close", {
      unlogged: $("unlogged").value, left: $("left").value, next: $("next").value, reason: $("reason").value, tags: $("tags").value,
      take: !$("take").hidden && $("take-box").checked, end, leave: !end && chosen() !== null && chosen().plan !== state.session.plan,
    }, t);
    problem($("closing"), answer.problem);
    if (answer.problem) return;
    await happened(answer.drafts, t);
    if (!end) return await another();
    await ends();
  } finally {
    state.busy = false;
  }
}

// ends puts the session by as over.
async function ends() {
  state.session.ended = true;
  await state.keep.put("sessions", state.session);
  if (!state.session.helps) await leaves();
  over();
}

// takes takes a plan's pack for the next block: the newest, or the one that this device carries.
async function takes(plan) {
  let pack = await fetchPack(plan).catch(() => null);
  if (!pack && plan !== state.session.plan) pack = (state.session.all || []).find((p) => p.plan === plan) || (await state.keep.get("packs", plan));
  if (!pack) return;
  state.session.packs.push(pack);
  state.session.plan = plan;
  await state.keep.put("sessions", state.session);
  await state.core.ask("renew", dated(pack), now());
}

// another begins the next block, on the newest version of its plan where the server can be asked; of a planned
// session the part that was chosen.
async function another() {
  const part = chosen();
  const plan = part ? part.plan : state.session.plan;
  await takes(plan);
  const t = now();
  const wanted = part ? { ...choice(), food: "", step: part.step || "", mode: part.mode || "train", finish: Boolean(part.finish) } : choice();
  const { drafts } = await state.core.ask("begin", wanted, t);
  await happened(drafts, t);
  $("unlogged").value = $("left").value = $("next").value = "";
  board();
}

// leaves puts by how the session left its plans, for the next one before the server knows of it.
async function leaves() {
  const { packs } = await state.core.ask("after", null, now());
  for (const pack of packs || []) await state.keep.put("packs", { ...pack, at: Date.now(), left: state.session.id });
}

async function over() {
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

// --- opening ----------------------------------------------------------------------------------

async function load(path) {
  const answer = await fetch(path, { headers: { Accept: "application/json" }, signal: AbortSignal.timeout(PATIENCE) });
  if (!answer.ok) {
    const problem = await answer.json().catch(() => ({}));
    const error = new Error(problem.detail || "It could not be loaded.");
    error.status = answer.status;
    throw error;
  }
  return answer.json();
}

// dated says on which day a pack is opened, in the practice's zone and by the server's clock where that is far
// from this one.
function dated(pack) {
  const skew = Math.abs(pack.now - pack.at) > 20 * 60000 ? pack.now - pack.at : 0;
  const parts = { timeZone: pack.zone || "UTC", year: "numeric", month: "2-digit", day: "2-digit" };
  return { ...pack, today: new Intl.DateTimeFormat("en-CA", parts).format(Date.now() + (skew || 0)) };
}

// carriedSheet is a planned session as this device carries it.
async function carriedSheet(id) {
  const day = await state.keep.get("meta", "field");
  const sheet = day && day.sheets.find((one) => one.id === id);
  if (!sheet) return null;
  const packs = [];
  for (const plan of new Set(sheet.plan.blocks.map((block) => block.plan))) {
    const pack = await state.keep.get("packs", plan);
    if (pack) packs.push(pack);
  }
  return packs.some((pack) => pack.plan === sheet.plan.blocks[0].plan) ? { sheet, packs } : null;
}

async function fetchPack(plan) {
  return state.keep.newest(await load(`/api/packs/${plan}`));
}

async function fetchSheet(sheet) {
  const planned = await load(`/api/sheets/${sheet}`);
  planned.packs = await Promise.all(planned.packs.map((pack) => state.keep.newest(pack)));
  return planned;
}

// hold runs the session in one tab at a time; another may take it over.
function hold(steal) {
  state.away = false;
  if (!navigator.locks) return;
  const name = `patientfox-run-${state.session.id}`;
  const held = () => new Promise((resolve) => (state.leave = resolve));
  navigator.locks.request(name, steal ? { steal: true } : { ifAvailable: true }, (lock) => (lock ? held() : elsewhere())).catch(elsewhere);
}

function elsewhere() {
  state.away = true;
  show("elsewhere");
}

async function resume(session, steal) {
  state.session = session;
  if (state.beside) state.beside.stop();
  const events = await state.keep.eventsOf(session.id);
  await reopen(session);
  // The clock goes on from the last event, by as much as the wall clock says has gone since; one that
  // jumped back counts as no time, and a session forgotten for days as six hours.
  const last = events.reduce((a, b) => (b.t > a.t ? b : a), { t: 0, wall: session.wall });
  const gone = Math.min(Math.max(0, Date.now() - last.wall), LONGEST);
  state.base = performance.now() - (last.t + gone);
  const { view } = await state.core.ask("apply", events, now());
  document.title = `${view.dog} · ${view.skill}`;
  draw(view);
  await beside();
  hold(steal);
  if (view.phase === "over") return over();
  board();
}

async function carried() {
  await drawCarried(state.keep, state.core, dated);
  document.title = "No signal · Patient Fox";
  show("carried");
  $("carried-title").focus();
}

async function start() {
  register().catch(() => {});
  if (!root.dataset.wasm) {
    return message("The core is missing", "This program was built without its browser part. Build it with make, then open this page again.");
  }
  try {
    state.keep = await Keep.open();
    state.device = await state.keep.device();
    await state.keep.tidy();
  } catch (error) {
    return message("This browser keeps nothing", `A session needs a place to keep its log until the server has it. A private window may not have one. (${error.message})`);
  }
  state.sender = new Sender(state.keep, told);
  state.senses = await Senses.open(state.keep);
  await remote(state.keep);
  state.core = new Core({ worker: "/run/worker.js", exec: root.dataset.exec, wasm: root.dataset.wasm });

  const plan = ask.get("plan");
  const sheet = ask.get("sheet");
  const wanted = ask.get("session");
  const sessions = await state.keep.all("sessions");
  const own = sessions.find((s) => (wanted ? s.id === wanted : !s.ended && (sheet ? s.sheet && s.sheet.id === sheet : s.plan === plan && !s.sheet)));
  if (own) return resume(own);
  if (wanted) {
    return comesIn(wanted).catch((error) => message("This session runs on another device", `Go on there, or look at what has reached the server. (${error.message})`));
  }
  if (!plan && !sheet) return carried();
  const opens = () => planned.packs.find((p) => p.plan === planned.sheet.plan.blocks[0].plan);
  let pack, planned;
  try {
    if (sheet) planned = await fetchSheet(sheet);
    pack = planned ? opens() : await fetchPack(plan);
  } catch (error) {
    if (error.status) return message(sheet ? "This session cannot be run" : "This plan cannot be run", error.message);
    planned = sheet && (await carriedSheet(sheet));
    pack = planned ? opens() : plan && (await state.keep.get("packs", plan));
    if (!pack) return message("No signal", "This has not been loaded on this device yet. Open Today once with a signal.");
  }
  await prepare(pack, planned);
  const changed = (event) => {
    if (event.target.id === "start-step" || event.target.id === "food") event.target.dataset.own = event.target.value;
    setup().catch(broken);
  };
  for (const id of ["place", "handler", "start-step", "mode", "food"]) $(id).addEventListener("change", changed);
  $("begin").addEventListener("click", () => begin(pack, planned).catch(broken));
}

// --- panels beside the board -------------------------------------------------------------------

// panel shows a panel in the board's place, with the focus on its title.
function panel(id) {
  show(id);
  $(`${id}-title`).focus();
}

$("end").addEventListener("click", () => (state.session.helps ? location.assign("/") : closing().catch(broken)));
$("closing-back").addEventListener("click", board);
$("closing-another").addEventListener("click", () => close(false).catch(broken));
$("closing-end").addEventListener("click", () => close(true).catch(broken));
$("take-over").addEventListener("click", () => resume(state.session, true).catch(broken));

const { note } = panels({ state, now, show, tick, panel, board, press, closing, happened, takes, dated, choice, options, item, problem, broken });
hands({ press, note, running: () => !$("board").hidden });
start().catch(broken);
