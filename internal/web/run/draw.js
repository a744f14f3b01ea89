// Drawing of the Run screen: what the core shows, put into the page. It computes nothing.
export const $ = (id) => document.getElementById(id);
export const root = $("run");
const shapes = new Map([...document.querySelectorAll("template[data-shape]")].map((t) => [t.dataset.shape, t]));

export function text(id, value) {
  const node = $(id);
  if (node.textContent !== value) node.textContent = value;
}

export function drawView(v) {
  text("dog", v.dog);
  text("skill", v.skill);
  text("step", v.step);
  text("where", v.where);
  text("target", v.target);
  text("dial-big", v.dial.big);
  text("dial-of", v.dial.of);
  $("dial").classList.toggle("full", v.dial.full);
  $("dial").classList.toggle("slow", v.dial.slow);
  $("dial-part").setAttribute("stroke-dashoffset", String(100 - 100 * v.dial.part));
  text("pace", v.pay.word ? `Pay: ${v.pay.word} ·` : "");
  $("pace").className = `pace ${v.pay.word}`;
  text("since", v.pay.since);
  text("next-pay", v.pay.next);
  $("next-pay").hidden = !v.pay.next;
  text("gone", v.pay.gone);
  $("gone").hidden = !v.pay.gone;
  text("sheet-line", v.sheet.line);
  text("sheet-next", v.sheet.done ? `Done. ${v.sheet.next}` : "");
  $("sheet").hidden = !v.sheet.line || v.phase === "warming";
  drawSet(v.set);
  drawVerdict(v);
  text("main-label", v.main.label);
  text("main-sub", v.main.sub);
  const off = new Set(v.off || []);
  for (const key of root.querySelectorAll("[data-key]")) {
    // The large key keeps its focus: while it rests the core takes no press of it.
    if (key.dataset.key !== "main") key.disabled = off.has(key.dataset.key);
  }
  for (const id of ["again", "offer"]) $(id).hidden = v.kind !== "cued";
  drawStates(v.states || [], v.labels || []);
  text("break-label", v.phase === "paused" ? "Go on" : "Break");
  text("log", v.log);
  root.dataset.phase = v.phase;
}

// With exposures the keys of outcomes are the dog's states.
function drawStates(states, labels) {
  if (root.dataset.states === states.join() + labels.join()) return;
  root.dataset.states = states.join() + labels.join();
  $("ease").hidden = !states.length;
  $("exceptions").classList.toggle("states", states.length > 0);
  $("exceptions").classList.toggle("relabelled", labels.length > 0);
  for (const key of $("exceptions").querySelectorAll("[data-label]")) {
    const n = Number(key.dataset.state);
    if (labels.length) {
      key.children[1].textContent = labels[n - 2];
      continue;
    }
    const shape = states.length ? `state${n}` : key.dataset.key;
    key.children[1].textContent = states.length ? states[n - 1] : key.dataset.label;
    key.children[0].replaceChildren(shapes.get(shape).content.cloneNode(true));
  }
}

function drawSet(set) {
  const key = JSON.stringify(set);
  if ($("set").dataset.drawn === key) return;
  $("set").dataset.drawn = key;
  text("set-label", set.label);
  $("set-places").replaceChildren(
    ...(set.places || []).map((place) => shapes.get(`${place.outcome || "empty"}${place.paid ? "-paid" : ""}`).content.cloneNode(true)),
  );
}

function drawVerdict(v) {
  const shown = v.verdict.show;
  $("verdict").classList.toggle("invisible", !shown);
  if (shown) {
    text("verdict-word", v.verdict.word);
    text("verdict-why", [v.verdict.why, v.verdict.coverage, ""].filter((part, i) => part || i === 2).join(". ").trim());
  }
  const more = shown && v.verdict.more;
  if ($("reckoning").hidden === more) {
    $("reckoning").hidden = !more;
    $("reckoning").open = false;
  }
  const others = v.phase === "deciding" ? v.verdict.others || [] : [];
  $("exceptions").hidden = others.length > 0;
  $("others").hidden = others.length === 0;
  const drawn = JSON.stringify(others);
  if ($("others").dataset.drawn !== drawn) {
    $("others").dataset.drawn = drawn;
    $("others").replaceChildren(
      ...others.map(({ key, label }) => {
        const button = document.createElement("button");
        button.type = "button";
        button.className = "key tall";
        button.dataset.key = key;
        button.textContent = label;
        return button;
      }),
    );
  }
}
