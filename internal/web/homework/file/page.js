// What was pressed becomes lines that can be pasted: a line a round, in the words that the practice reads.
(function () {
  'use strict';
  var out = document.getElementById('lines');
  var send = document.getElementById('send');
  var said = document.getElementById('said');

  // A place or a remark is one part of a line: what would begin another, or look like a count, is written otherwise.
  function plain(text) {
    return text.replace(/[;\r\n]+/g, ',').replace(/(\d)\s*(?:out of|of|\/)\s*(?=\d)/g, '$1 in ').replace(/\s+/g, ' ').trim();
  }

  function day() {
    var now = new Date();
    function two(n) { return (n < 10 ? '0' : '') + n; }
    return now.getFullYear() + '-' + two(now.getMonth() + 1) + '-' + two(now.getDate());
  }

  function write() {
    var lines = [];
    document.querySelectorAll('section[data-skill]').forEach(function (skill) {
      var place = plain(skill.querySelector('[data-place]').value).replace(/[,\s]+/g, ' ');
      var remark = plain(skill.querySelector('[data-remark]').value);
      var here = [];
      skill.querySelectorAll('fieldset').forEach(function (round) {
        var on = round.querySelector('[aria-pressed="true"]');
        if (on) here.push([skill.dataset.skill, on.dataset.says, place, round.dataset.day].filter(Boolean).join(' '));
      });
      if (here.length && remark) here[here.length - 1] += ', ' + remark;
      lines = lines.concat(here);
    });
    out.value = lines.join('\n');
    send.hidden = !lines.length;
  }

  document.addEventListener('click', function (event) {
    var key = event.target.closest('button[data-says]');
    if (!key) return;
    var was = key.getAttribute('aria-pressed') === 'true';
    var round = key.closest('fieldset');
    round.querySelectorAll('button').forEach(function (one) { one.setAttribute('aria-pressed', 'false'); });
    key.setAttribute('aria-pressed', String(!was));
    round.dataset.day = day();
    said.textContent = '';
    write();
  });
  document.addEventListener('input', function (event) {
    if (event.target !== out) write();
  });
  document.getElementById('copy').addEventListener('click', function () {
    out.select();
    var copied = document.execCommand('copy');
    said.textContent = copied ? 'Copied: paste it into a message to your trainer.' : 'Select the lines and copy them into a message.';
  });
  document.querySelectorAll('[data-script]').forEach(function (one) { one.hidden = false; });
  write();
})();
