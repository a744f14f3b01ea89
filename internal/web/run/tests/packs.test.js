import assert from "node:assert/strict";
import { test } from "node:test";
import "./page.js";

const { dated } = await import("../packs.js");
const { uuid, Keep } = await import("../db.js");
const { join } = await import("../beside.js");

const minute = 60000;
const pack = (/** @type {any} */ own) => ({ v: 1, plan: "p", dog_name: "", skill_name: "", ...own });

test("a pack is opened on the day it is in the practice's zone", (t) => {
  t.mock.timers.enable({ apis: ["Date"], now: Date.UTC(2026, 10, 27, 23, 30) });
  const now = Date.now();
  assert.equal(dated(pack({ zone: "UTC", now, at: now })).today, "2026-11-27");
  assert.equal(dated(pack({ zone: "Europe/Oslo", now, at: now })).today, "2026-11-28");
  assert.equal(dated(pack({ now, at: now })).today, "2026-11-27");
});

test("the server's clock counts where this device's is far off", (t) => {
  t.mock.timers.enable({ apis: ["Date"], now: Date.UTC(2026, 10, 27, 23, 30) });
  const at = Date.now();
  assert.equal(dated(pack({ zone: "UTC", now: at + 45 * minute, at })).today, "2026-11-28");
  assert.equal(dated(pack({ zone: "UTC", now: at + 15 * minute, at: at + 0 })).today, "2026-11-27");
});

test("identities are UUIDs of version 7, and sort by when they were made", (t) => {
  t.mock.timers.enable({ apis: ["Date"], now: 1 });
  const ids = [];
  for (let i = 0; i < 50; i += 1) {
    ids.push(uuid());
    t.mock.timers.tick(7777);
  }
  for (const id of ids) assert.match(id, /^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  assert.deepEqual([...ids].sort(), ids);
  assert.equal(new Set(ids).size, 50);
});

test("drafts become events of this device, numbered on", () => {
  const keep = new Keep(/** @type {any} */ (null));
  keep.dev = "phone";
  keep.seq = 41;
  const events = keep.stamp([{ kind: "trial", data: {} }, { kind: "pay", data: {} }], { session: "s", t: 900, by: "m", handler: "h" });
  assert.deepEqual(events.map(({ seq }) => seq), [42, 43]);
  assert.deepEqual(events.map(({ dev, t, by, handler, session }) => [dev, t, by, handler, session]), Array(2).fill(["phone", 900, "m", "h", "s"]));
});

test("a second device takes the session's clock from the middle of the round trip", async (t) => {
  const clock = [1000, 1400];
  t.mock.method(performance, "now", () => clock.shift());
  const { base } = await join(async () => ({ now: 50000, zero: 20000 }), "s");
  assert.equal(base, 1200 - 30000);
});

test("a second device asks again while the session is being read, and not for other faults", async (t) => {
  t.mock.timers.enable({ apis: ["setTimeout"] });
  let asked = 0;
  const load = async () => {
    asked += 1;
    if (asked < 3) throw Object.assign(new Error("being read"), { status: 503 });
    return { now: 1, zero: 1 };
  };
  const joined = join(load, "s");
  while (asked < 3) {
    await new Promise(setImmediate);
    t.mock.timers.tick(250);
  }
  await joined;
  await assert.rejects(join(async () => { throw Object.assign(new Error("gone"), { status: 404 }); }, "s"), { message: "gone" });
});
