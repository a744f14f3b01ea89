// The Run screen: how a session is opened, gone on with, or come into. It draws what the core shows, keeps events
// before anything else, and computes nothing itself.
import { Beside, join } from "./beside.js";
import { board, draw, happened, inTurn, once, press, reopen, restored } from "./board.js";
import { drawCarried } from "./carried.js";
import { ends, over } from "./closing.js";
import { Core } from "./core.js";
import { Keep, runLock, uuid } from "./db.js";
import { $, all, broken, heard, message, on, panel, root, show, text } from "./draw.js";
import { register } from "./field.js";
import { options, problem, stepped } from "./form.js";
import { hands, remote } from "./hands.js";
import { carriedSheet, dated, fetchPack, fetchSheet, load, sides } from "./packs.js";
import { note } from "./panels.js";
import { refused } from "./refused.js";
import { savedLine, Sender } from "./sender.js";
import { Senses } from "./senses.js";
import { choice, prepare } from "./setup.js";
import { changed, clock, now, state } from "./state.js";

const PATIENCE = 15_000; // ms until a page that is still opening says so
const SETTLES = 2000; // ms after its last event until a session that was left is at rest
const LETS_GO = 700; // ms until a page that was left has let go of its session

const ask = new URLSearchParams(location.search);

// beside looks for what other devices log in the same session.
async function beside() {
  await state.core.ask("device", state.device, now());
  const session = state.session;
  state.beside = new Beside({
    keep: state.keep, session, device: state.device,
    came: (/** @type {LogEvent[]} */ events) => inTurn(async () => {
      if (state.session !== session) return;
      const { view } = await state.core.ask("apply", events, now());
      draw(view);
      if (view.phase === "over" && !session.ended) await ends();
    }).catch(broken),
    gone: () => ($("gone-elsewhere").hidden = false),
  });
}

// comesIn brings this device into a session that another one runs.
async function comesIn(/** @type {string} */ id) {
  const { joined, base } = await join(load, id);
  if (joined.ended) return message("This session is over", "Look back at it from the dog's page.");
  $("join-dog").textContent = joined.dog;
  options($("join-by"), joined.packs[0].people || [], joined.packs[0].person);
  panel("join");
  $("join-in").onclick = heard(async () => {
    const at = Date.now();
    const packs = joined.packs.map((/** @type {Pack} */ pack) => ({ ...pack, at }));
    state.session = { id, plan: joined.plan, packs, all: packs, by: $("join-by").value, handler: packs[0].person, wall: at, seen: 0 };
    state.base = base;
    await state.keep.put("sessions", state.session);
    await reopen(state.session);
    await beside();
    await happened([{ kind: "join", data: { offset: 0 } }], now());
    await runs();
  });
}

async function begin(/** @type {Pack} */ pack, /** @type {any} */ planned) {
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
    await runs();
  } catch (error) {
    if ($("board").hidden) state.session = null; // it has not begun
    throw error;
  }
}

const savedNodes = all("[data-saved]");
const refusedLinks = all("[data-refused]");

function told(/** @type {any} */ sent) {
  const line = savedLine(sent);
  for (const node of savedNodes) {
    if (node.textContent !== line) node.textContent = line;
  }
  for (const link of refusedLinks) link.hidden = !sent.refused.length;
  root.dataset.waiting = String(sent.waiting);
  text("review", sent.waiting ? "Look back (what waits is not in it yet)" : "Look back");
}

// hold runs the session in one tab at a time; another may take it over. It says whether this one runs it. The page that this
// one was opened from may hold it for a moment longer.
function hold(steal = false) {
  state.away = false;
  return new Promise((settle) => {
    if (!navigator.locks) return settle(true);
    const held = () => {
      settle(true);
      return new Promise((resolve) => (state.leave = resolve));
    };
    const way = steal ? { steal: true } : { signal: AbortSignal.timeout(LETS_GO) };
    navigator.locks.request(runLock(state.session.id), way, held).catch(() => {
      settle(false);
      elsewhere();
    });
  });
}

// runs shows the board, where this tab runs the session: with what the page before was left too soon to write. last is
// when its last event was, in ms of its clock, where it is resumed.
async function runs(steal = false, last = 0) {
  if (!(await hold(steal))) return;
  if (await state.keep.recover(state.session.id)) draw(await restored());
  if (state.session.aside) await rested(last);
  board();
  for (const other of await state.keep.all("sessions")) {
    if (!other.ended && other.id !== state.session.id) await state.keep.put("sessions", { ...other, aside: true });
  }
}

// rested notes that a session was at rest from its last event on, as far as it was left for another one on this device.
async function rested(/** @type {number} */ last) {
  const from = Math.min(last + SETTLES, now());
  if (state.view.phase === "idle") {
    for (const t of [from, now()]) await happened((await state.core.ask("press", "break", t)).drafts, t);
  }
  await changed({ aside: false });
}

function elsewhere() {
  state.away = true;
  show("elsewhere");
}

async function resume(/** @type {Session} */ session, steal = false) {
  state.session = session;
  if (state.beside) state.beside.stop();
  const events = await state.keep.eventsOf(session.id);
  await reopen(session);
  state.base = clock(session, events);
  const { view } = await state.core.ask("apply", events, now());
  document.title = `${view.dog} · ${view.skill}`;
  draw(view);
  await beside();
  if (view.phase === "over") return over();
  await runs(steal, Math.max(0, ...events.map((/** @type {LogEvent} */ event) => event.t)));
}

async function carried() {
  await drawCarried(state.keep, state.core, dated);
  document.title = "On this device · Patient Fox";
  show("carried");
  $("carried-title").focus();
}

async function start() {
  register().catch(() => {});
  setTimeout(() => {
    if ($("message-title").textContent === "Opening…") $("message-text").textContent = "This takes longer than it should. Load the page again: nothing is lost.";
  }, PATIENCE);
  if (!root.dataset.wasm) {
    return message("The core is missing", "This program was built without its browser part. Build it with make, then open this page again.");
  }
  try {
    state.keep = await Keep.open();
    state.keep.persist();
    state.device = await state.keep.device();
    await state.keep.tidy();
  } catch (error) {
    return message("This browser keeps nothing", `A session needs a place to keep its log until the server has it. A private window may not have one. (${error.message})`);
  }
  state.sender = new Sender(state.keep, told);
  state.sender.restored = () => state.session && (state.session.seen = 0);
  if (ask.has("refused")) return refused();
  state.senses = await Senses.open(state.keep);
  await remote(state.keep);
  state.core = new Core({ worker: "/run/worker.js", exec: root.dataset.exec, wasm: root.dataset.wasm });

  const plan = ask.get("plan");
  const sheet = ask.get("sheet");
  const wanted = ask.get("session");
  const sessions = await state.keep.all("sessions");
  const own = sessions.find((/** @type {any} */ s) => (wanted ? s.id === wanted : !s.ended && (sheet ? s.sheet && s.sheet.id === sheet : s.plan === plan && !s.sheet)));
  if (own) return resume(own);
  if (wanted) {
    return comesIn(wanted).catch((error) => message("This session runs on another device", `Go on there, or look at what has reached the server. (${error.message})`));
  }
  if (!plan && !sheet) return carried();
  const opens = () => planned.packs.find((/** @type {any} */ p) => p.plan === planned.sheet.plan.blocks[0].plan);
  /** @type {Pack} */
  let pack;
  /** @type {any} */
  let planned;
  try {
    if (sheet) planned = await fetchSheet(sheet);
    pack = planned ? opens() : await fetchPack(plan);
  } catch (error) {
    if (error.status && !error.busy) return message(sheet ? "This session cannot be run" : "This plan cannot be run", error.message);
    planned = sheet && (await carriedSheet(sheet));
    pack = planned ? opens() : plan && (await state.keep.get("packs", plan));
    if (!pack) return message("No signal", "This has not been loaded on this device yet. Open Today once with a signal.");
  }
  await prepare(pack, planned);
  sides(pack);
  on($("begin"), "click", () => once(() => begin(pack, planned)));
}

on($("take-over"), "click", () => resume(state.session, true));

stepped(root);
hands({ press, note, running: () => !$("board").hidden });
start().catch(broken);
