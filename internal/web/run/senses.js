// What the phone does beside drawing: a buzz, a flash of the whole screen, sounds, a voice, a beat, light, and a screen that stays
// awake. What is told is what the core says. A dog learns whatever it hears before food or before the end: nothing that it can hear
// is on until the trainer chooses it.
import { $, all, on, root, text } from "./draw.js";

// Frequency in Hz and length in s of what is heard, and the buzz in ms.
/** @type {Record<string, { notes: number[][], buzz: number[] }>} */
const signs = {
  pay: { notes: [[880, 0.09]], buzz: [60] },
  full: { notes: [[660, 0.12], [990, 0.16]], buzz: [120] },
  help: { notes: [[440, 0.1], [440, 0.1]], buzz: [40, 40, 40] },
  set: { notes: [[520, 0.1], [660, 0.1], [780, 0.18]], buzz: [80, 60, 80] },
  rest: { notes: [], buzz: [200, 100, 200] }, // silent to the dog, whatever is switched on
  sag: { notes: [[330, 0.25]], buzz: [300] },
  beat: { notes: [[1200, 0.03]], buzz: [] },
};

export class Senses {
  constructor(/** @type {import("./db.js").Keep} */ keep, /** @type {any} */ own) {
    this.keep = keep;
    this.own = own; // how this device is set
    this.awake = false;
    this.next = 0; // when the beat is next due, in ms of the page's clock
    /** @type {WakeLockSentinel | null} */
    this.lock = null;
    /** @type {AudioContext | null} */
    this.audio = null;
  }

  static async open(/** @type {import("./db.js").Keep} */ keep) {
    const own = (await keep.get("meta", "ways")) || {};
    const senses = new Senses(keep, { light: "", heard: "", sound: false, buzz: true, flash: true, voice: false, beat: false, ...own });
    if (own.heard === undefined && (own.sound || own.voice || own.beat)) senses.own.heard = "loud"; // set before it could be said
    for (const field of all("[data-way]")) {
      const way = field.dataset.way;
      if (field.type === "checkbox") field.checked = senses.own[way];
      else field.value = senses.own[way];
      on(field, "change", () => senses.set(way, field.type === "checkbox" ? field.checked : field.value));
    }
    senses.light();
    senses.hears();
    document.addEventListener("visibilitychange", () => {
      if (document.visibilityState === "visible" && senses.awake) senses.wake();
    });
    return senses;
  }

  async set(/** @type {any} */ way, /** @type {any} */ value) {
    await this.keep.put("meta", { name: "ways", ...this.own, [way]: value });
    this.own[way] = value;
    this.light();
    this.hears();
  }

  // hears lets sounds be chosen once it is said who hears them.
  hears() {
    for (const way of ["sound", "voice", "beat"]) $("ways").querySelector(`[data-way="${way}"]`).disabled = !this.own.heard;
  }

  light() {
    document.documentElement.dataset.light = this.own.light;
  }

  // wake keeps the screen on while a session runs, where the browser can.
  async wake() {
    this.awake = true;
    if (!navigator.wakeLock || (this.lock && !this.lock.released)) return;
    try {
      this.lock = await navigator.wakeLock.request("screen");
    } catch {
      this.lock = null; // a browser may refuse it, with a low battery for one
    }
  }

  rest() {
    this.awake = false;
    if (this.lock) this.lock.release().catch(() => {});
    this.lock = null;
  }

  // feel compares what was shown with what is shown now, and tells what came about between them.
  feel(/** @type {View} */ was, /** @type {View} */ now) {
    if (!was) return;
    const began = (/** @type {(v: View) => any} */ of) => of(now) && !of(was);
    if (began((v) => v.pay.due)) this.tell("pay");
    if (began((v) => v.dial.full)) this.tell("full");
    if (began((v) => v.help)) this.tell("help");
    if (began((v) => v.verdict.show)) {
      this.tell("set");
      this.say(`${now.verdict.word}. ${now.verdict.why}`);
    }
    if (began((v) => v.advice.rest)) this.tell("rest");
    if (began((v) => v.advice.line) && (!now.advice.rest || this.own.heard === "ear")) this.say(now.advice.line);
    else if (now.moves && now.moves !== was.moves) this.say(now.moves);
    if (began((v) => v.pay.word === "overdue")) this.tell("sag");
    this.beat(now);
    text("pocket-word", now.verdict.show ? now.verdict.word : now.phase === "trying" ? now.dial.big : now.main.label);
    text("pocket-line", now.advice.line || now.step);
  }

  // beats tells whether the planned rate is ticked out now.
  beats(/** @type {View} */ view) {
    return Boolean(this.own.heard && this.own.beat && view.pay.gap > 0 && (view.phase === "trying" || view.phase === "idle"));
  }

  // beat ticks at the middle of the planned rate while the dog works.
  beat(/** @type {View} */ view) {
    const on = this.beats(view);
    if (on && !this.next) this.next = performance.now() + view.pay.gap * 1000;
    if (!on) this.next = 0;
    if (this.next && performance.now() >= this.next) {
      this.next += view.pay.gap * 1000;
      this.tell("beat", true);
    }
  }

  tell(/** @type {string} */ sign, always = false) {
    const { notes, buzz } = signs[sign];
    root.dataset.told = sign;
    if (this.own.buzz && buzz.length && navigator.vibrate) navigator.vibrate(buzz);
    if (this.own.flash && buzz.length) this.flash();
    if (!this.own.heard || !(this.own.sound || always) || !window.AudioContext) return;
    this.audio = this.audio || new AudioContext();
    let at = this.audio.currentTime + 0.01;
    for (const [hz, s] of notes) {
      const tone = this.audio.createOscillator();
      const loud = this.audio.createGain();
      tone.frequency.value = hz;
      loud.gain.setValueAtTime(0.25, at);
      loud.gain.exponentialRampToValueAtTime(0.001, at + s);
      tone.connect(loud).connect(this.audio.destination);
      tone.start(at);
      tone.stop(at + s);
      at += s;
    }
  }

  // flash lights the whole screen up once.
  flash() {
    $("flash").animate([{ opacity: 0.55 }, { opacity: 0 }], { duration: 450, easing: "ease-out" });
  }

  say(/** @type {string} */ text) {
    if (!this.own.heard || !this.own.voice || !window.speechSynthesis) return;
    speechSynthesis.cancel();
    speechSynthesis.speak(new SpeechSynthesisUtterance(text));
  }
}
