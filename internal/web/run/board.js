// The board of a running session: a press, what it leads to, the log that keeps it, and the screen. Whoever wants to
// leave says so by the event "leave", with the reason where there is one.
import { $, broken, drawDial, drawView, failed, root, show } from "./draw.js";
import { dated } from "./packs.js";
import { now, state } from "./state.js";

const LOOK = 90; // ms between two looks at what is waited for
const MOST = 16; // events that one press leads to; more of them take a second way to the core

const stamp = (/** @type {number} */ t) => ({ session: state.session.id, t, by: state.session.by, handler: state.session.handler });

// happened keeps drafts, shows what they lead to while they are being written down, then sends them.
export async function happened(/** @type {Draft[]} */ drafts, /** @type {number} */ t) {
  if (!drafts || !drafts.length) return;
  const events = state.keep.stamp(drafts, stamp(t));
  await keeps(events, state.core.ask("apply", events, t));
}

// keeps shows what the core makes of events, and writes them down.
async function keeps(/** @type {LogEvent[]} */ events, /** @type {Promise<Answer>} */ applied, kept = state.keep.store(events)) {
  kept.catch(() => {}); // it is waited for below
  try {
    const { view } = await applied;
    state.logged += events.length;
    state.sender.counts(events.length);
    draw(view);
    if (await kept) draw(await restored()); // another tab took the numbers: read as they are kept
    state.sender.soon();
    $("full").hidden = true;
  } catch (error) {
    if (error.name !== "QuotaExceededError") throw error;
    draw(await restored()); // what is not kept is not shown as logged
    $("full").hidden = false;
    state.sender.report();
  }
}

// reopen hands the core the session's packs, as it was opened and went on.
export async function reopen(/** @type {Session} */ session) {
  await state.core.ask("open", dated(session.packs[0]), 0);
  if (session.sheet) await state.core.ask("follow", session.sheet, 0);
  for (const pack of session.packs.slice(1)) await state.core.ask("renew", dated(pack), 0);
  await state.core.ask("device", state.device, 0);
}

// restored reads the session anew from what is kept; until it is read nothing else is shown.
export async function restored() {
  state.reading = true;
  try {
    await reopen(state.session);
    const events = await state.keep.eventsOf(state.session.id);
    return (await state.core.ask("apply", events, now())).view;
  } finally {
    state.reading = false;
  }
}

function leave(/** @type {string} */ reason) {
  root.dispatchEvent(new CustomEvent("leave", { detail: reason }));
}

// inTurn does what leads to events after all that was pressed before it.
export function inTurn(/** @type {() => Promise<any>} */ does) {
  const done = state.queue.then(does);
  state.queue = done.catch(() => {}); // whoever asked hears of it
  return done;
}

// once does something in turn, and is not asked a second time until it is done.
export async function once(/** @type {() => Promise<any>} */ does) {
  if (state.busy) return;
  state.busy = true;
  try {
    return await inTurn(does);
  } finally {
    state.busy = false;
  }
}

// press takes a key of the board. It counts wherever the trainer goes next, unless the press before it led away.
export function press(/** @type {string} */ key) {
  const t = now();
  const { left } = state;
  if ($("board").hidden) return;
  if (key === "main" && state.view && state.view.ends) return leave(state.view.ends);
  state.pressing += 1;
  inTurn(async () => {
    if (state.away || !state.session || (state.left && !left)) return;
    /** @type {LogEvent[] | undefined} */
    let events;
    /** @type {Promise<boolean> | undefined} */
    let kept;
    const answer = await state.core.ask("press", key, t, state.keep.envelope(stamp(t), MOST), (made) => {
      events = made;
      state.keep.seq += made.length;
      kept = state.keep.store(made);
      kept.catch(() => {}); // it is waited for below
    });
    if (events) await keeps(events, Promise.resolve(answer), kept);
    else await happened(answer.drafts, t);
  })
    .catch(broken)
    .finally(() => (state.pressing -= 1));
}

export function board() {
  show("board");
  state.senses.wake();
  mainKey();
  tick();
}

// mainKey hands the keyboard to the large key.
export const mainKey = () => root.querySelector('[data-key="main"]').focus({ preventScroll: true });

// waits tells whether something is counted in tenths of a second, a beat is heard, or a key is about to take presses again.
const waits = (/** @type {View} */ v) => !v || v.rests || v.dial.live || v.phase !== "idle" || state.senses.beats(v);

// tick looks again and again at what time changes on the board. By a timer: a loop of frames would have the browser make each of them,
// and a press wait for it.
let ticking = 0;
export function tick() {
  const mine = ++ticking;
  let last = -Infinity;
  const look = async () => {
    if ($("board").hidden || mine !== ticking) return;
    const time = performance.now();
    if (time - last > (waits(state.view) ? LOOK / 2 : 4 * LOOK) && !state.reading && !state.pressing) {
      last = time;
      try {
        const { view, dial } = await state.core.ask("look", null, now());
        if (view) draw(view);
        else if (!state.pressing) turn(dial);
      } catch (error) {
        failed(error);
      }
    }
    setTimeout(look, LOOK);
  };
  look();
}

// turn goes on with the dial, where nothing else has changed.
function turn(/** @type {any} */ { since, ...dial }) {
  const view = { ...state.view, dial, pay: { ...state.view.pay, since } };
  state.senses.feel(state.view, view);
  state.view = view;
  drawDial(view);
}

export function draw(/** @type {View} */ view) {
  if (state.senses) state.senses.feel(state.view, view);
  state.view = view;
  drawView(view);
  state.drawn = state.logged; // for the benchmark: what is logged stands on the screen
  if (view.leave && !state.left) leave(view.leave);
  state.left = Boolean(view.leave);
}
