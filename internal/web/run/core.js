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
        if (data.early) return this.open.get(data.id).early(data.early);
        this.times.push(data.ms);
        if (this.times.length > 2000) this.times.shift();
        const settle = this.open.get(data.id);
        this.open.delete(data.id);
        const answer = JSON.parse(data.result);
        if (answer.error) settle.reject(new Error(answer.error));
        else settle.resolve(answer);
      };
      this.worker.onerror = (event) => reject(new Error(event.message || "the core could not be loaded"));
    });
    this.failed.catch(() => {});
    this.worker.postMessage({ load: { exec, wasm } });
  }

  /**
   * With an envelope, early is called with the events that were made, before they are applied. The core holds one session behind each
   * door, by its name.
   * @param {string} method @param {any} arg @param {number} at @param {Envelope} [envelope] @param {(events: LogEvent[]) => void} [early] @param {string} [door]
   * @returns {Promise<Answer>}
   */
  ask(method, arg, at, envelope, early, door = "") {
    const id = this.next++;
    const answered = new Promise((resolve, reject) => this.open.set(id, { resolve, reject, early }));
    this.worker.postMessage({ id, method, arg, at, door, ...(envelope && { envelope }) });
    return Promise.race([answered, this.failed]);
  }
}
