// What the server refused: it stays on this device until somebody has looked at it, saved it, sent it again or let it go.
import { $, failed, on, panel, text } from "./draw.js";
import { item, moment } from "./form.js";
import { state } from "./state.js";

/** @typedef {LogEvent & { why: string, waiting?: number }} Refused */

// lines are events as a file holds them: one JSON object a line, each with the reason.
export const lines = (/** @type {Refused[]} */ refused) => refused.map((event) => JSON.stringify({ ...event, waiting: undefined })).join("\n") + "\n";

const when = (/** @type {number} */ wall) => moment(wall, { weekday: "short", day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

function row(/** @type {Refused} */ event, /** @type {string} */ whose) {
  const li = item("");
  const head = Object.assign(document.createElement("p"), { className: "font-bold", textContent: `${event.kind} · ${when(event.wall)}${whose}` });
  const why = Object.assign(document.createElement("p"), { textContent: `Refused: ${event.why}` });
  const all = document.createElement("details");
  const data = Object.assign(document.createElement("pre"), { className: "text-sm whitespace-pre-wrap break-words", textContent: JSON.stringify(event.data, null, 2) });
  all.append(Object.assign(document.createElement("summary"), { className: "py-2", textContent: "All of it" }), data);
  const go = document.createElement("details");
  const sure = Object.assign(document.createElement("p"), { textContent: "It is on this device alone. Let go, it is gone for good." });
  const button = Object.assign(document.createElement("button"), { type: "button", className: "btn small mt-1", textContent: "Let it go" });
  go.append(Object.assign(document.createElement("summary"), { className: "py-2", textContent: "Let it go…" }), sure, button);
  li.append(head, why, all, go);
  on(button, "click", () => settled(() => state.keep.letGo([event.id])));
  return li;
}

// settled does something to what was refused, and shows what is left of it.
async function settled(/** @type {() => Promise<void>} */ action) {
  await action();
  await state.sender.report();
  $("refused-title").focus();
}

let file = ""; // the address of the file that is offered

async function draw() {
  const refused = /** @type {Refused[]} */ (await state.keep.refused());
  const drawn = refused.map((event) => event.id).join();
  if ($("refused").dataset.drawn === drawn) return; // what is opened there stays open
  $("refused").dataset.drawn = drawn;
  const sessions = new Map((await state.keep.all("sessions")).map((/** @type {Session} */ s) => [s.id, s]));
  const whose = (/** @type {Refused} */ event) => {
    const session = sessions.get(event.session);
    return session ? ` · ${session.packs[0].dog_name}, ${session.packs[0].skill_name}` : "";
  };
  $("refused-list").replaceChildren(...refused.map((event) => row(event, whose(event))));
  text("refused-none", refused.length ? "" : "Nothing that was logged here is refused.");
  $("refused-actions").hidden = !refused.length;
  if (file) URL.revokeObjectURL(file);
  file = URL.createObjectURL(new Blob([lines(refused)], { type: "application/jsonl" }));
  $("refused-file").href = file;
}

export async function refused() {
  on($("refused-again"), "click", () =>
    settled(async () => {
      await state.keep.again((await state.keep.refused()).map((/** @type {Refused} */ event) => event.id));
      text("refused-said", "Sent again. What stands here after a moment was refused again.");
      state.sender.kick();
    }),
  );
  const tell = state.sender.tell;
  state.sender.tell = (sent) => {
    tell(sent);
    draw().catch(failed);
  };
  await draw();
  document.title = "Refused · Patient Fox";
  panel("refused");
}
