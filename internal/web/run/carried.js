// What this device carries, for when the server cannot be asked: sessions that run, those planned, and plans.
import { $ } from "./draw.js";
import { moment } from "./form.js";

function row(/** @type {string} */ href, /** @type {string} */ title, /** @type {string[]} */ lines, /** @type {string} */ label) {
  const li = document.createElement("li");
  li.className = "flex flex-wrap items-center gap-x-5 gap-y-2";
  const words = document.createElement("div");
  words.className = "flex-1 min-w-[14rem]";
  const head = document.createElement("p");
  head.className = "font-bold";
  head.textContent = title;
  words.append(head);
  for (const line of lines.filter(Boolean)) {
    const p = document.createElement("p");
    p.className = "sub";
    p.textContent = line;
    words.append(p);
  }
  const link = document.createElement("a");
  link.className = "btn";
  link.href = href;
  link.textContent = label;
  link.setAttribute("aria-label", `${label}: ${title}`);
  li.append(words, link);
  return li;
}

export async function drawCarried(/** @type {import("./db.js").Keep} */ keep, /** @type {import("./core.js").Core} */ core, /** @type {any} */ dated) {
  const packs = (await keep.all("packs")).map(dated);
  const { rows } = await core.ask("list", packs, 0);
  const names = new Map((rows || []).map((/** @type {any} */ r) => [r.plan, r]));
  const all = await keep.all("sessions");
  const sessions = all.filter((/** @type {any} */ s) => !s.ended);
  const begun = new Set(all.map((/** @type {any} */ s) => s.sheet && s.sheet.id));
  const day = await keep.get("meta", "field");
  const planned = ((day && day.sheets) || []).filter((/** @type {any} */ s) => s.plan.blocks && s.plan.blocks.length && names.has(s.plan.blocks[0].plan) && !begun.has(s.id));
  const today = packs.length ? dated(packs[0]).today : "";
  const classes = (day && day.day === today && day.classes) || [];
  $("carried-open").replaceChildren(
    ...classes.map((/** @type {Floor} */ one) => row(`/run/class?id=${one.id}`, one.name, [`Class, week ${one.week}`], sessions.some((/** @type {Session} */ s) => s.class === one.id) ? "Go on" : "Start")),
    ...sessions.filter((/** @type {Session} */ s) => !classes.some((/** @type {Floor} */ one) => one.id === s.class)).map((/** @type {any} */ s) => {
      const first = s.packs[0];
      return row(`/run?plan=${s.plan}&session=${s.id}`, `${first.dog_name} · ${first.skill_name}`, ["Begun and not ended"], "Go on");
    }),
  );
  $("carried-sheets").replaceChildren(
    ...planned.map((/** @type {any} */ s) => {
      const first = names.get(s.plan.blocks[0].plan);
      return row(`/run?sheet=${s.id}`, `${first.dog} · ${[...new Set(s.plan.blocks.map((/** @type {any} */ b) => s.names[b.plan]))].join(", ")}`, [`${s.day === today ? "Today" : moment(`${s.day}T12:00`, { weekday: "long" })} ${String(Math.floor(s.at / 60)).padStart(2, "0")}:${String(s.at % 60).padStart(2, "0")} · ${s.pieces} treats`], "Start");
    }),
  );
  $("carried-plans").replaceChildren(...(rows || []).map((/** @type {any} */ r) => row(`/run?plan=${r.plan}`, `${r.dog} · ${r.skill}`, [r.step, `${r.where}. ${r.start}`], r.finished ? "Probe" : "Start")));
  $("carried-none").hidden = Boolean(packs.length || sessions.length || classes.length);
  $("carried-when").textContent = day ? `As it stood ${moment(day.at, { weekday: "long", hour: "2-digit", minute: "2-digit" })}, and what was logged here since.` : "";
}
