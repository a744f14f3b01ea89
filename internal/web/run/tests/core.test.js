import assert from "node:assert/strict";
import { test } from "node:test";
import { Core } from "../core.js";

// worker is the core's Worker as a test answers for it.
function worker() {
  const asked = [];
  let own;
  globalThis.Worker = class {
    constructor() {
      own = this;
    }
    postMessage(message) {
      asked.push(message);
    }
  };
  const core = new Core({ worker: "w", exec: "e", wasm: "c" });
  return { core, asked, says: (data) => own.onmessage({ data }), fails: (message) => own.onerror({ message }) };
}

test("answers find their questions, in whatever order they come", async () => {
  const { core, asked, says } = worker();
  const first = core.ask("view", null, 10);
  const second = core.ask("press", "main", 20, undefined, undefined, "dog"); // behind a door of its own
  assert.deepEqual(asked.slice(1), [{ id: 1, method: "view", arg: null, at: 10, door: "" }, { id: 2, method: "press", arg: "main", at: 20, door: "dog" }]);
  says({ id: 2, ms: 1, result: '{"drafts":[]}' });
  says({ id: 1, ms: 2, result: '{"view":{"phase":"idle"}}' });
  assert.equal((await first).view.phase, "idle");
  assert.deepEqual((await second).drafts, []);
  assert.deepEqual(core.times, [1, 2]);
});

test("a press with an envelope says its events before they are applied", async () => {
  const { core, asked, says } = worker();
  const envelope = { session: "s", dev: "d", seq: 7, t: 20, wall: 1, by: "m", handler: "m", ids: ["a", "b"] };
  const made = [];
  const pressed = core.ask("press", "main", 20, envelope, (events) => made.push(...events));
  assert.deepEqual(asked.at(-1).envelope, envelope);
  says({ id: 1, early: [{ id: "a", seq: 8 }] });
  assert.deepEqual(made, [{ id: "a", seq: 8 }]);
  says({ id: 1, ms: 1, result: '{"view":{"phase":"trying"}}' });
  assert.equal((await pressed).view.phase, "trying");
});

test("a question that the core refuses fails alone", async () => {
  const { core, says } = worker();
  const bad = core.ask("press", "?", 0);
  const good = core.ask("view", null, 0);
  says({ id: 1, ms: 1, result: '{"error":"no such key"}' });
  says({ id: 2, ms: 1, result: "{}" });
  await assert.rejects(bad, { message: "no such key" });
  assert.deepEqual(await good, {});
});

test("a core that cannot be loaded fails every question, those asked later too", async () => {
  const { core, fails } = worker();
  const before = core.ask("view", null, 0);
  fails("out of memory");
  await assert.rejects(before, { message: "out of memory" });
  await assert.rejects(core.ask("view", null, 0), { message: "out of memory" });
});
