// What was pressed becomes lines that can be pasted: a line a round, in the words that the practice reads. press.js stands before this.
(function () {
  const out = document.getElementById("lines");
  const send = document.getElementById("send");
  const said = document.getElementById("said");

  // A place or a remark is one part of a line: what would begin another, or look like a count, is written otherwise.
  function plain(text) {
    return text.replace(/[;\r\n]+/g, ",").replace(/(\d)\s*(?:out of|of|\/)\s*(?=\d)/g, "$1 in ").replace(/\s+/g, " ").trim();
  }

  function write() {
    out.value = pressed().map((line) => {
      const place = plain(line.place).replace(/[,\s]+/g, " ");
      const remark = plain(line.remark);
      return [line.skill, count(line), place, line.day].filter(Boolean).join(" ") + (remark && `, ${remark}`);
    }).join("\n");
    send.hidden = !out.value;
  }

  document.addEventListener("click", (event) => {
    if (!press(event, dayOf(0))) return;
    said.textContent = "";
    write();
  });
  document.addEventListener("input", (event) => {
    if (event.target !== out) write();
  });
  document.getElementById("copy").addEventListener("click", () => {
    out.select();
    const copied = document.execCommand("copy");
    said.textContent = copied ? "Copied: paste it into a message to your trainer." : "Select the lines and copy them into a message.";
  });
  for (const one of document.querySelectorAll("[data-script]")) one.hidden = false;
  write();
})();
