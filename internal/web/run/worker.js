// The core in the browser. It keeps the running session between calls and answers in JSON.
// This answer alone carries the right to compile wasm; the pages do not.
const waiting = [];
const REST = 250; // ms after a press until the core tidies up
let ready = false;
let rest = 0;

self.fieldcoreReady = () => {
  ready = true;
  while (waiting.length) answer(waiting.shift());
};

// One message is one answer. With an envelope, what a method leads to is applied at once: its drafts become events, by the ids
// given, the page hears of them at once, and the answer has the view, so that a press costs one way to the core and back.
function answer({ id, method, arg, at, envelope, door }) {
  const started = performance.now();
  let result = self.fieldcore(method, JSON.stringify(arg ?? null), at ?? 0, door);
  let events;
  if (envelope) {
    const { drafts } = JSON.parse(result);
    if (drafts && drafts.length <= envelope.ids.length) {
      const { ids, seq, ...rest } = envelope;
      events = drafts.map(({ kind, data }, i) => ({ v: 1, id: ids[i], seq: seq + 1 + i, ...rest, kind, data }));
      self.postMessage({ id, early: events }); // they are being written down before the screen shows what they lead to
      result = self.fieldcore("apply", JSON.stringify(events), at, door);
    }
  }
  self.postMessage({ id, result, ms: performance.now() - started });
  if (method !== "apply" && !events) return;
  clearTimeout(rest);
  rest = setTimeout(self.fieldcoreRest, REST);
}

self.onmessage = async ({ data }) => {
  if (data.load) {
    try {
      importScripts(data.load.exec);
      const go = new Go();
      const { instance } = await WebAssembly.instantiateStreaming(fetch(data.load.wasm), go.importObject);
      go.run(instance);
    } catch (error) {
      self.postMessage({ failed: String(error) });
    }
    return;
  }
  if (ready) answer(data);
  else waiting.push(data);
};
