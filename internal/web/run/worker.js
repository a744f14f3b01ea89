// The core in the browser. It keeps the running session between calls and answers in JSON.
// This answer alone carries the right to compile wasm; the pages do not.
const waiting = [];
let ready = false;

self.fieldcoreReady = () => {
  ready = true;
  while (waiting.length) answer(waiting.shift());
};

function answer({ id, method, arg, at }) {
  const started = performance.now();
  const result = self.fieldcore(method, JSON.stringify(arg ?? null), at ?? 0);
  self.postMessage({ id, result, ms: performance.now() - started });
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
