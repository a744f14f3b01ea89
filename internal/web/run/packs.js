// Packs: what a plan's work on this device rests on, from the server or as the device carries it.
import { message } from "./draw.js";
import { state } from "./state.js";

const PATIENCE = 5000; // ms for the server before what is kept here is taken
const LONGER = 20_000; // ms for it where nothing is kept here

export async function load(/** @type {string} */ path, kept = true) {
  const answer = await fetch(path, { headers: { Accept: "application/json" }, signal: AbortSignal.timeout(kept ? PATIENCE : LONGER) });
  if (!answer.ok) {
    const problem = await answer.json().catch(() => ({}));
    throw Object.assign(new Error(problem.detail || "It could not be loaded."), { status: answer.status });
  }
  return answer.json();
}

// dated says on which day a pack is opened, in the practice's zone and by the server's clock where that is far
// from this one.
export function dated(/** @type {Pack} */ pack) {
  const skew = Math.abs(pack.now - pack.at) > 20 * 60000 ? pack.now - pack.at : 0;
  /** @type {Intl.DateTimeFormatOptions} */
  const parts = { timeZone: pack.zone || "UTC", year: "numeric", month: "2-digit", day: "2-digit" };
  return { ...pack, today: new Intl.DateTimeFormat("en-CA", parts).format(Date.now() + (skew || 0)) };
}

// carried lists the other plans that this device has, those worked longest ago first.
export async function carried() {
  const { rows } = await state.core.ask("list", (await state.keep.all("packs")).map(dated), 0);
  return (rows || []).filter((/** @type {any} */ row) => row.plan !== state.view.plan);
}

// sides brings the packs of the other sides of a ladder, where there is a signal.
export function sides(/** @type {Pack} */ pack) {
  for (const { id } of pack.tracks || []) load(`/api/packs/${id}`).then((side) => state.keep.newest(side, true)).catch(() => {}); // or as they are carried
}

// carriedSheet is a planned session as this device carries it.
export async function carriedSheet(/** @type {string} */ id) {
  const day = await state.keep.get("meta", "field");
  const sheet = day && day.sheets.find((/** @type {any} */ one) => one.id === id);
  if (!sheet) return null;
  const packs = [];
  for (const plan of new Set(sheet.plan.blocks.map((/** @type {any} */ block) => block.plan))) {
    const pack = await state.keep.get("packs", plan);
    if (pack) packs.push(pack);
  }
  return packs.some((pack) => pack.plan === sheet.plan.blocks[0].plan) ? { sheet, packs } : null;
}

const BUSY = [503, 507]; // the server is there, and has no pack just now

const SOON = 3000; // ms in which what was logged just now is read

// patient asks again while the server reads anew what a pack rests on: for a moment, and longer where this device carries none
// of its own.
async function patient(/** @type {string} */ path, /** @type {() => Promise<any>} */ carries) {
  const until = performance.now() + SOON;
  const kept = Boolean(await carries());
  for (;;) {
    try {
      return await load(path, kept);
    } catch (error) {
      if (!BUSY.includes(error.status)) throw error;
      if (performance.now() < until) {
        await new Promise((done) => setTimeout(done, 150));
        continue;
      }
      if (kept) throw Object.assign(new Error(error.message), { busy: true });
      message("One moment", error.message);
      await new Promise((done) => setTimeout(done, 1000));
    }
  }
}

export async function fetchPack(/** @type {string} */ plan) {
  const pack = await patient(`/api/packs/${plan}`, () => state.keep.get("packs", plan));
  return state.keep.newest(pack);
}

export async function fetchSheet(/** @type {string} */ sheet) {
  const planned = await patient(`/api/sheets/${sheet}`, () => carriedSheet(sheet));
  planned.packs = await Promise.all(planned.packs.map((/** @type {Pack} */ pack) => state.keep.newest(pack)));
  return planned;
}
