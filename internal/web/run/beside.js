// Several devices in one session: each asks the server, while it can, for what the others logged.
const EVERY = 1000; // ms

export class Beside {
  // came is called with the others' events, gone when the session was put away elsewhere.
  /** @param {{ keep: import("./db.js").Keep, session: Session, device: string, came: (events: LogEvent[]) => any, gone: () => void, every?: number }} ways */
  constructor({ keep, session, device, came, gone, every = EVERY }) {
    this.keep = keep;
    this.session = session;
    this.device = device;
    this.came = came;
    this.gone = gone;
    this.every = every;
    this.told = false; // that it is gone
    this.going = true;
    this.loop();
  }

  stop() {
    this.going = false;
  }

  async loop() {
    while (this.going) {
      try {
        await this.look();
      } catch {
        // without a signal there is nothing to see; what is logged here waits in the queue
      }
      await new Promise((done) => setTimeout(done, this.every));
    }
  }

  async look() {
    const answer = await fetch(`/api/sessions/${this.session.id}/events?after=${this.session.seen || 0}`, {
      headers: { Accept: "application/json" }, signal: AbortSignal.timeout(4000),
    });
    if (!answer.ok) return;
    const { events, at, deleted } = await answer.json();
    if (deleted && !this.told) {
      this.told = true;
      this.gone();
    }
    if (!events || !this.going) return;
    const others = events.filter((/** @type {LogEvent} */ event) => event.dev !== this.device);
    if (others.length) await this.keep.take(others);
    if (at !== this.session.seen) {
      this.session.seen = at;
      await this.keep.put("sessions", this.session);
    }
    if (others.length && this.going) await this.came(others);
  }
}

// join is the session, and where its clock stands, from one round trip: the server's moment is the middle of it. What the session
// has just logged may be being read; then it is there in a moment.
export async function join(/** @type {any} */ load, /** @type {string} */ id) {
  for (let tries = 20; ; tries -= 1) {
    const asked = performance.now();
    try {
      const joined = await load(`/api/sessions/${id}`);
      const back = performance.now();
      return { joined, base: (asked + back) / 2 - Math.max(0, joined.now - joined.zero) };
    } catch (error) {
      if (error.status !== 503 || !tries) throw error;
      await new Promise((done) => setTimeout(done, 250));
    }
  }
}
