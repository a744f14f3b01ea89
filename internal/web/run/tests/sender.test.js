import assert from "node:assert/strict";
import { test } from "node:test";
import "./page.js";
import { savedLine, Sender } from "../sender.js";

const sent = (/** @type {any} */ how) => savedLine({ waiting: 0, refused: [], reachable: true, status: 0, ...how });

test("the line under the board says how it stands with what was logged", () => {
  assert.equal(sent({}), "All saved");
  assert.equal(sent({ waiting: 3 }), "3 not saved yet");
  assert.equal(sent({ waiting: 3, reachable: false }), "No signal · 3 kept here");
  assert.equal(sent({ waiting: 3, reachable: false, status: 507 }), "The server’s disk is full · 3 kept here");
  assert.equal(sent({ waiting: 3, status: 418 }), "The server does not take it (418) · 3 kept here");
  assert.equal(sent({ refused: [{ why: "no such plan" }, { why: "later" }] }), "All else saved · 2 refused: no such plan");
});

// sender is one without a loop of its own, over events that a test gives.
function sender(/** @type {any[]} */ events, /** @type {any} */ answer) {
  const posted = [];
  const settled = [];
  globalThis.fetch = async (path, request) => {
    posted.push({ path, ...request, events: JSON.parse(request.body).events });
    return answer(posted.at(-1).events);
  };
  const keep = {
    waiting: async (most) => ({ count: events.length - settled.length, events: events.slice(settled.length, settled.length + most) }),
    settle: async (receipts) => settled.push(...receipts),
    epoch: async () => false,
  };
  const one = Object.assign(Object.create(Sender.prototype), { keep, tabs: { postMessage() {} }, reachable: false, status: 0, restored() {} });
  return { one, posted, settled };
}

const taken = (events) => ({ ok: true, json: async () => ({ receipts: events.map(({ id }) => ({ id, result: "stored" })), epoch: "a" }) });
const made = (/** @type {number} */ n, note = "") => Array.from({ length: n }, (_, i) => ({ id: String(i), kind: "note", data: note }));

test("a batch is at most 200 events, and says whether there are more", async () => {
  const { one, posted, settled } = sender(made(250), taken);
  assert.equal(await one.send(), true);
  assert.equal(posted[0].events.length, 200);
  assert.equal(await one.send(), false);
  assert.equal(posted[1].events.length, 50);
  assert.equal(await one.send(), false);
  assert.equal(posted.length, 2);
  assert.equal(settled.length, 250);
  assert.equal(one.reachable, true);
});

test("a batch is light enough for the server, however long its notes are", async () => {
  for (const note of ["ä".repeat(20000), "🦊".repeat(12000), "x".repeat(60000)]) {
    const { one, posted, settled } = sender(made(40, note), taken);
    while (await one.send());
    assert.equal(settled.length, 40);
    for (const { body } of posted) assert.ok(new Blob([body]).size <= 256 * 1024, `${new Blob([body]).size} bytes`);
  }
});

test("one event that is too heavy for a batch goes alone", async () => {
  const { one, posted } = sender(made(2, "x".repeat(160000)), taken);
  assert.equal(await one.send(), true);
  assert.equal(posted[0].events.length, 1);
});

test("what is not taken stays, and the page learns why", async () => {
  const { one, settled } = sender(made(3), () => ({ ok: false, status: 503 }));
  await assert.rejects(one.send(), { message: "503" });
  assert.equal(one.status, 503);
  assert.equal(settled.length, 0);
});
