// The way to the core in its Worker: ask(method, argument, session ms) → answer.
export class Core {
  constructor(/** @type {{ worker: string, exec: string, wasm: string }} */ { worker, exec, wasm }) {
    this.open = new Map();
    this.next = 1;
    /** @type {number[]} */
    this.times = []; // ms the core took for each answer, for measuring
    this.worker = new Worker(worker);
    this.failed = new Promise((_, reject) => {
      this.worker.onmessage = ({ data }) => {
        if (data.failed) return reject(new Error(data.failed));
        this.times.push(data.ms);
        if (this.times.length > 2000) this.times.shift();
        const settle = this.open.get(data.id);
        this.open.delete(data.id);
        const answer = JSON.parse(data.result);
        if (data.events) answer.events = data.events;
        if (answer.error) settle.reject(Object.assign(new Error(answer.error), { events: data.events }));
        else settle.resolve(answer);
      };
      this.worker.onerror = (event) => reject(new Error(event.message || "the core could not be loaded"));
    });
    this.failed.catch(() => {});
    this.worker.postMessage({ load: { exec, wasm } });
  }

  /** @param {string} method @param {any} arg @param {number} at @param {Envelope} [envelope] @returns {Promise<Answer>} */
  ask(method, arg, at, envelope) {
    const id = this.next++;
    const answered = new Promise((resolve, reject) => this.open.set(id, { resolve, reject }));
    this.worker.postMessage({ id, method, arg, at, ...(envelope && { envelope }) });
    return Promise.race([answered, this.failed]);
  }
}
