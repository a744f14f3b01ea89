// Panels and menus of the pages, for Alpine's build without eval. No rule is written here.
let followed = 0; // when a link was last followed: a page that opens itself anew lets that go first
document.addEventListener("click", (event) => {
  if (event.target instanceof Element && event.target.closest("a[href]")) followed = Date.now();
});
document.addEventListener("alpine:init", () => {
  // One generator of a ladder: which of its fields its way of building asks for stands with that way.
  Alpine.data("generator", () => ({
    make: "",
    how: "add",
    listed: false,
    init() {
      this.make = this.$root.dataset.make;
      this.how = this.$root.dataset.grow || "add";
      this.fit();
      this.$watch("make", () => this.fit());
    },
    // What fades is a support; other dimensions are not offered for it.
    fit() {
      const what = this.$refs.what;
      for (const option of what.options) option.hidden = option.disabled = this.fades && !option.dataset.fades;
      if (this.fades && what.selectedOptions[0]?.disabled !== false) what.value = "help";
      this.chosen();
    },
    get fades() {
      return this.make === "fade";
    },
    chosen() {
      const option = this.$refs.what.selectedOptions[0];
      this.listed = Boolean(option && option.dataset.list);
    },
    needs(/** @type {any} */ field) {
      /** @type {HTMLOptionElement} */
      const way = [...this.$refs.make.options].find((one) => one.value === this.make);
      const asks = way && (this.listed ? way.dataset.listed : way.dataset.asks);
      return Boolean(asks) && asks.split(" ").includes(field);
    },
    get shown() {
      return Number(this.$root.dataset.number) <= this.count;
    },
    get what() {
      return this.needs("what");
    },
    get from() {
      return this.needs("from");
    },
    get to() {
      return this.needs("to");
    },
    get by() {
      return this.needs("by");
    },
    get grow() {
      return this.needs("grow");
    },
    get trigger() {
      return this.needs("trigger");
    },
    get items() {
      return this.needs("items");
    },
    get tools() {
      return this.needs("tools");
    },
    get parts() {
      return this.needs("parts");
    },
  }));

  Alpine.data("builder", () => ({
    count: 1,
    join: "weave",
    init() {
      this.join = this.$root.dataset.join || "weave";
      this.count = Math.max(1, this.$root.dataset.generators.trim().split(" ").length);
    },
    more() {
      this.count = Math.min(4, this.count + 1);
    },
    get room() {
      return this.count < 4;
    },
    get alternate() {
      return this.join === "alternate";
    },
  }));

  // What a form would make, as the server says, while it is typed.
  Alpine.data("laying", () => ({
    asked: 0,
    async show() {
      const mine = ++this.asked;
      const form = this.$root;
      const answer = await fetch(form.dataset.preview, { method: "POST", body: new URLSearchParams(/** @type {any} */ (new FormData(form))) });
      if (!answer.ok || mine !== this.asked) return;
      const page = new DOMParser().parseFromString(await answer.text(), "text/html");
      document.getElementById("preview").replaceWith(page.getElementById("preview"));
    },
  }));

  // A table of steps: arrows move within a column, a column that was copied elsewhere fills cells downwards.
  Alpine.data("sheet", () => ({
    cells(/** @type {any} */ cell) {
      const at = cell.closest("td").cellIndex;
      return [...this.$root.querySelectorAll("tr[data-row]")].map((row) => row.cells[at].querySelector("input, select")).filter(Boolean);
    },
    move(/** @type {any} */ event) {
      const cell = event.target;
      const by = /** @type {Record<string, number>} */ ({ ArrowDown: 1, ArrowUp: -1, Enter: 1 })[event.key];
      if (!by || !cell.closest("tr[data-row]") || (cell.tagName === "SELECT" && event.key !== "Enter")) return;
      event.preventDefault();
      const column = this.cells(cell);
      const next = column[column.indexOf(cell) + by];
      if (next) next.focus();
      if (next && next.select) next.select();
    },
    paste(/** @type {any} */ event) {
      const cell = event.target;
      const text = event.clipboardData.getData("text").replace(/\r/g, "").replace(/\n$/, "");
      if (!cell.closest("tr[data-row]") || !/[\n\t]/.test(text)) return;
      event.preventDefault();
      const rows = [...this.$root.querySelectorAll("tr[data-row]")];
      const top = rows.indexOf(cell.closest("tr"));
      const left = cell.closest("td").cellIndex;
      text.split("\n").forEach((/** @type {string} */ line, /** @type {number} */ down) => {
        line.split("\t").forEach((value, right) => {
          const there = rows[top + down] && rows[top + down].cells[left + right];
          const field = there && there.querySelector("input:not([type=checkbox]), select");
          if (field) field.value = value.trim();
        });
      });
    },
    all(/** @type {any} */ event) {
      for (const tick of this.$root.querySelectorAll("[data-tick]")) tick.checked = event.target.checked;
    },
  }));

  // Steps are dragged by their handle, with a mouse or a thumb; the buttons beside them do the same.
  Alpine.data("reorder", () => ({
    grab(/** @type {any} */ event) {
      const row = event.target.closest("li");
      const list = row.parentElement;
      event.preventDefault();
      row.classList.add("dragged");
      let over = row;
      const move = (/** @type {any} */ e) => {
        const under = document.elementFromPoint(e.clientX, e.clientY);
        const found = under && under.closest("li[data-id]");
        if (!found || found.parentElement !== list) return;
        over.classList.remove("over");
        over = found;
        over.classList.add("over");
      };
      const done = (/** @type {boolean} */ drop) => {
        window.removeEventListener("pointermove", move);
        row.classList.remove("dragged");
        over.classList.remove("over");
        if (!drop || over === row) return;
        this.$refs.do.name = "do";
        this.$refs.do.value = "move:" + row.dataset.id;
        this.$refs.to.value = over.dataset.number;
        this.$root.requestSubmit();
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", () => done(true), { once: true });
      window.addEventListener("pointercancel", () => done(false), { once: true });
    },
  }));

  // What is behind a point of the way: on hover, on focus, and on a first tap; a second tap follows it.
  Alpine.data("telling", () => ({
    said: "",
    link: "",
    /** @type {any} */
    tapped: null, // the point that a finger touched last
    tell(/** @type {any} */ event) {
      const point = event.target.closest("[data-tell]");
      if (!point) return;
      this.said = point.dataset.tell + ".";
      this.link = point.getAttribute("href");
    },
    first(/** @type {any} */ event) {
      const point = event.target.closest("[data-tell]");
      if (!point || event.pointerType !== "touch" || this.tapped === point) return;
      event.preventDefault();
      this.tapped = point;
      this.tell(event);
    },
    get quiet() {
      return !this.said;
    },
  }));

  // A computation that takes longer than a page: how far it is, until it is done.
  Alpine.data("working", () => ({
    part: 0,
    async init() {
      for (;;) {
        const answer = await fetch(this.$root.dataset.url, { headers: { Accept: "application/json" } });
        const look = answer.ok ? await answer.json() : { running: false };
        if (!look.running) break;
        this.part = look.part;
        await new Promise((done) => setTimeout(done, 400));
      }
      while (Date.now() - followed < 2000) await new Promise((done) => setTimeout(done, 400));
      location.reload();
    },
  }));

  // A passkey is made.
  Alpine.data("passkey", () => ({
    name: "",
    says: "",
    get can() {
      return Boolean(window.PublicKeyCredential?.parseCreationOptionsFromJSON);
    },
    get cannot() {
      return !this.can;
    },
    async make() {
      const { make } = await import("./passkey.js");
      this.says = await make(this.name);
      if (!this.says) location.reload();
    },
  }));

  // By when somebody handles alone, once it is worked out.
  Alpine.data("alone", () => ({
    says: "",
    async init() {
      for (;;) {
        const answer = await fetch(this.$root.dataset.url, { headers: { Accept: "application/json" } });
        const look = answer.ok ? await answer.json() : { says: "It could not be worked out just now." };
        this.says = look.running ? `Working it out: ${look.part} %` : look.says;
        if (!look.running) break;
        await new Promise((done) => setTimeout(done, 400));
      }
    },
  }));

  Alpine.data("rule", () => ({
    kind: "set",
    init() {
      this.kind = this.$root.dataset.kind || "set";
    },
    get set() {
      return this.kind === "set";
    },
    get run() {
      return this.kind === "run";
    },
    get gate() {
      return this.kind === "gate";
    },
    get proof() {
      return this.kind === "proof";
    },
    get count_up() {
      return this.kind === "count_up";
    },
    get calm() {
      return this.kind === "calm";
    },
    get guarded() {
      return this.kind !== "count_up" && this.kind !== "calm";
    },
  }));

  Alpine.data("printing", () => ({
    paper() {
      window.print();
    },
  }));
});

// A form that was sent once is not sent again by a second click; its key would catch it anyway.
document.addEventListener("submit", (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (form.dataset.sent) {
    event.preventDefault();
    return;
  }
  form.dataset.sent = "yes";
});
window.addEventListener("pageshow", () => {
  for (const form of document.forms) delete form.dataset.sent;
});
