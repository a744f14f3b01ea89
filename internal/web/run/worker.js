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

function answer({ id, method, arg, at }) {
  const started = performance.now();
  const result = self.fieldcore(method, JSON.stringify(arg ?? null), at ?? 0);
  self.postMessage({ id, result, ms: performance.now() - started });
  if (method !== "apply") return;
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
