// What the Run screen's modules share: the session that runs here, and its clock.
/** @type {State} */
export const state = {
  core: null, keep: null, sender: null,
  session: null, // { id, plan, packs, by, handler, wall, ended }
  base: 0, // performance.now() at the session's zero
  view: null,
  queue: Promise.resolve(), // presses are answered one after another
  pressing: 0, // presses without an answer yet: they draw the screen themselves
  away: false, // another tab runs this session
  reading: false, // the session is read anew
  leave: null,
  logged: 0, // events since this page was opened
};

// now is the session's clock, ms.
export const now = () => Math.max(0, Math.round(performance.now() - state.base));

const LONGEST = 6 * 3600 * 1000; // ms

// clock is where performance.now() stood at a session's zero. Its clock goes on from the last event, by as much as the wall clock says
// has gone since; one that jumped back counts as no time, and a session forgotten for days as six hours.
export function clock(/** @type {Session} */ session, /** @type {LogEvent[]} */ events) {
  const last = events.reduce((/** @type {any} */ a, b) => (b.t > a.t ? b : a), { t: 0, wall: session.wall });
  return performance.now() - (last.t + Math.min(Math.max(0, Date.now() - last.wall), LONGEST));
}

// changed keeps a change of the session that runs here; where it cannot be kept, the session is as it was. The change is made
// first, because others keep the session meanwhile and would take it back.
export async function changed(/** @type {any} */ to) {
  const session = state.session;
  const was = Object.fromEntries(Object.keys(to).map((name) => [name, session[name]]));
  Object.assign(session, to);
  try {
    await state.keep.put("sessions", session);
  } catch (error) {
    Object.assign(session, was);
    throw error;
  }
}
