// Keys, the find box, the drawer and its pin. Everything else is links and forms.
(() => {
  const drawer = document.getElementById("drawer"), find = document.getElementById("find"), found = document.getElementById("found"), keys = document.getElementById("keys");
  // What this browser keeps belongs to a person: it goes when they sign out, and when somebody else signs in.
  const me = document.body.dataset.person;
  if (me && sessionStorage.getItem("person") !== me) { sessionStorage.clear(); sessionStorage.setItem("person", me); }
  let gone = false;
  document.querySelector("form.who")?.addEventListener("submit", () => { gone = true; sessionStorage.clear(); });
  const pinKey = "pinned:" + (document.body.dataset.company || "");
  const typing = e => e.target.closest("input, select, textarea, [contenteditable]");

  const showPin = () => { const b = drawer?.querySelector("[data-pin]"); if (b) b.textContent = sessionStorage.getItem(pinKey) === null ? "Pin" : "Unpin"; };
  const close = () => { if (!drawer || !drawer.childElementCount) return false; drawer.replaceChildren(); sessionStorage.removeItem(pinKey); mark(null); return true; };
  const pin = () => {
    if (!drawer?.childElementCount) return;
    if (sessionStorage.getItem(pinKey) === null) sessionStorage.setItem(pinKey, drawer.innerHTML); else sessionStorage.removeItem(pinKey);
    showPin();
  };
  // The row whose trail is open is marked, so that drawer and table are read together.
  const mark = element => {
    document.querySelectorAll("tr.chosen").forEach(r => r.classList.remove("chosen"));
    element?.closest("tr")?.classList.add("chosen");
  };

  // A page that opens with its drawer begins there.
  if (drawer?.childElementCount && !document.querySelector("[autofocus]")) drawer.focus({ preventScroll: true });
  if (drawer && !drawer.childElementCount && sessionStorage.getItem(pinKey) !== null) { drawer.innerHTML = sessionStorage.getItem(pinKey); window.htmx?.process(drawer); showPin(); }
  document.addEventListener("htmx:afterSwap", e => {
    if (e.detail.target !== drawer) return;
    if (sessionStorage.getItem(pinKey) !== null) sessionStorage.setItem(pinKey, drawer.innerHTML);
    showPin();
    mark(e.detail.requestConfig?.elt?.closest?.("main") ? e.detail.requestConfig.elt : null);
    if (e.detail.requestConfig?.elt?.closest?.("main")) drawer.querySelector("input:not([type=hidden]), select")?.focus();
  });
  // Two people at one draft see each other: an open page asks now and then, tells what others did, and draws anew what can be drawn anew.
  const draft = document.querySelector("[data-draft]"), note = document.getElementById("draft-note"), ASK = 4000;
  const showDraft = (text, stamp) => { draft.textContent = text; document.body.dataset.stamp = stamp; };
  const askDraft = async () => {
    const answer = await fetch(`/${document.body.dataset.company}/draft-state?stamp=${encodeURIComponent(document.body.dataset.stamp)}&since=${document.body.dataset.since}`, { headers: { Accept: "application/json", "X-Part": "yes" } });
    if (answer.status !== 200) return;
    const { text, stamp, said, more, since } = await answer.json();
    showDraft(text, stamp); document.body.dataset.since = since;
    document.body.dispatchEvent(new CustomEvent("draft-changed"));
    if (!said.length || !note) return;
    const line = (t) => { const p = document.createElement("p"); p.textContent = t; return p; }, away = document.createElement("button");
    away.type = "button"; away.className = "plain"; away.textContent = "Seen"; away.addEventListener("click", () => { note.hidden = true; });
    note.replaceChildren(...said.map(line), ...(more ? [line(`and ${more} more`)] : []), away); note.hidden = false;
  };
  if (draft && document.body.dataset.stamp) {
    document.body.addEventListener("draft-seen", e => showDraft(e.detail.text, e.detail.stamp));
    setInterval(() => { if (!document.hidden) askDraft().catch(() => {}); }, ASK);
  }

  // A request that is cut off by leaving the page is no fault.
  let leaving = false;
  window.addEventListener("beforeunload", () => { leaving = true; });
  const complain = e => {
    if (leaving) return;
    const p = document.createElement("p");
    p.className = "fault"; p.setAttribute("role", "alert");
    p.textContent = e.detail.xhr?.status === 503 ? "The database can't be reached at the moment, and nothing was changed. What you typed is still here; try again in a while."
      : e.detail.xhr?.status === 429 ? "That was more often than this page is asked for. Wait a minute, then go on; what you typed is still here."
      : "The server did not answer as it should. Nothing was changed; load the page again and repeat the act.";
    (e.detail.target || document.getElementById("page")).prepend(p);
  };
  // What could not be read the last time is told once, not again beside the next.
  document.addEventListener("htmx:beforeSwap", e => e.detail.target?.querySelectorAll?.(":scope > .fault.unread").forEach(told => told.remove()));
  document.addEventListener("htmx:responseError", complain);
  document.addEventListener("htmx:sendError", complain);

  // The rail folds to its marks and counts, and stays so.
  const fold = folded => { document.querySelector(".frame")?.classList.toggle("folded", folded); document.querySelector("[data-fold]")?.setAttribute("aria-expanded", String(!folded)); };
  fold(localStorage.getItem("folded") === "yes");

  document.addEventListener("click", e => {
    if (e.target.closest("[data-fold]")) { const folded = localStorage.getItem("folded") !== "yes"; localStorage.setItem("folded", folded ? "yes" : "no"); fold(folded); }
    else if (e.target.closest("[data-close]")) { e.preventDefault(); window.Assignum.mayLose(drawer).then(lose => { if (lose) close(); }); }
    else if (e.target.closest("[data-pin]")) { e.preventDefault(); pin(); }
    else if (found && !e.target.closest(".find")) found.replaceChildren();
    const all = e.target.closest("[data-all]");
    if (all) document.querySelectorAll(`input[name="${all.dataset.all}"]`).forEach(box => { box.checked = all.checked; });
  });
  document.addEventListener("change", e => { if (e.target.matches("[data-submit]")) e.target.form.requestSubmit(); });

  // On paper goes the whole list, as it is narrowed now.
  const printed = () => { const address = new URL(location.href); address.searchParams.delete("handler"); address.searchParams.set("print", "yes"); address.hash = ""; return address.href; };
  document.addEventListener("click", e => {
    if (e.target.closest("[data-print]")) { e.preventDefault(); window.Assignum.mayLose().then(lose => { if (lose) location.assign(printed()); }); }
    else if (e.target.closest("[data-print-now]")) window.print();
  });
  document.addEventListener("keydown", e => {
    if (e.key !== "p" || !(e.ctrlKey || e.metaKey) || !document.querySelector("[data-print]")) return;
    e.preventDefault(); window.Assignum.mayLose().then(lose => { if (lose) location.assign(printed()); });
  });

  // In the find box, arrows choose and Enter opens.
  find?.addEventListener("keydown", e => {
    const links = [...found.querySelectorAll("a")], at = links.findIndex(a => a.classList.contains("at"));
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      e.preventDefault();
      const next = links[(at + (e.key === "ArrowDown" ? 1 : links.length - 1)) % links.length] || links[0];
      links.forEach(a => a.classList.toggle("at", a === next));
      next?.scrollIntoView({ block: "nearest" });
    } else if (e.key === "Enter") { e.preventDefault(); (links[at] || links[0])?.click(); }
    else if (e.key === "Escape") { found.replaceChildren(); find.value = ""; find.blur(); }
  });

  document.addEventListener("keydown", e => {
    if ((e.key === "k" && (e.ctrlKey || e.metaKey)) || (e.key === "/" && !typing(e))) { if (find) { e.preventDefault(); find.focus(); find.select(); } return; }
    if (e.key === "Escape") { if (keys?.open) return; const menu = document.querySelector("details.more[open]"); if (menu) { menu.open = false; menu.querySelector("summary").focus(); return; } if (drawer?.childElementCount) { e.preventDefault(); window.Assignum.mayLose(drawer).then(lose => { if (lose) close(); }); } return; }
    if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return;
    if (e.key === "?") { keys?.querySelectorAll("[data-keys-of]").forEach(part => { part.hidden = !document.querySelector(part.dataset.keysOf); }); keys?.showModal(); }
    else if (e.key === "n") { const add = document.querySelector("[data-add]"); if (add) { e.preventDefault(); add.click(); } }
    else if (e.key === "p") { pin(); }
    else if (e.key === "j" || e.key === "k") {
      const rows = [...document.querySelectorAll("main tbody tr")].filter(r => r.querySelector("a, input"));
      const at = rows.findIndex(r => r.classList.contains("at"));
      const next = rows[Math.min(rows.length - 1, Math.max(0, at + (e.key === "j" ? 1 : -1)))];
      rows.forEach(r => r.classList.toggle("at", r === next));
      (next?.querySelector("a:not(.turn)") || next?.querySelector("input"))?.focus();
      next?.scrollIntoView({ block: "nearest" });
    }
    // In a tree, right opens the heading one stands on and left closes it; one stays on it when the tree comes back.
    else if (e.key === "ArrowRight" || e.key === "ArrowLeft") {
      const turn = document.querySelector("tr.at .turn");
      if (turn?.getAttribute("aria-expanded") === String(e.key === "ArrowLeft")) { e.preventDefault(); standing = turn.closest("tr").id; turn.click(); }
    }
  });
  let standing = null;
  document.addEventListener("htmx:afterSettle", () => {
    const row = standing && document.getElementById(standing);
    if (!row) return;
    standing = null;
    row.classList.add("at");
    row.querySelector("a:not(.turn)")?.focus();
  });

  // A free number that is offered goes into the field at a click; a menu closes when something else is pointed at.
  document.addEventListener("click", e => {
    const free = e.target.closest("[data-number]");
    if (free) { const field = free.closest("form").elements.Number; field.value = free.dataset.number; field.dispatchEvent(new Event("input", { bubbles: true })); field.focus(); }
    document.querySelectorAll("details.more[open]").forEach(d => { if (!d.contains(e.target)) d.open = false; });
  });

  // The name of a field is dragged onto the column that gives it; the column's list says the same without a mouse.
  let dragged = null;
  document.addEventListener("dragstart", e => { dragged = e.target.closest?.("[data-field]")?.dataset.field || null; if (dragged) e.dataTransfer.setData("text/plain", dragged); });
  const over = e => dragged && e.target.closest?.(".mapping [data-column], .mapping td");
  const columnOf = cell => cell.dataset.column ? cell : cell.closest("table").querySelector(`[data-column="${cell.cellIndex}"]`);
  document.addEventListener("dragover", e => { const cell = over(e); document.querySelectorAll(".mapping .over").forEach(c => c.classList.remove("over")); if (cell) { e.preventDefault(); columnOf(cell).classList.add("over"); } });
  document.addEventListener("drop", e => {
    const cell = over(e);
    if (!cell) return;
    e.preventDefault();
    document.querySelectorAll(".mapping th select").forEach(s => { if (s.value === dragged) s.value = ""; });
    const select = columnOf(cell).querySelector("select");
    select.value = dragged; dragged = null;
    select.dispatchEvent(new Event("change", { bubbles: true }));
  });
  // A field that is chosen for one column leaves the other that had it.
  document.addEventListener("change", e => { if (e.target.matches(".mapping th select") && e.target.value) document.querySelectorAll(".mapping th select").forEach(s => { if (s !== e.target && s.value === e.target.value) s.value = ""; }); }, true);

  // A line is added to the try-out when the last one is begun, so that the keyboard never leaves the table.
  const grow = body => {
    const next = body.lastElementChild.cloneNode(true), n = body.children.length;
    next.querySelectorAll("[id]").forEach(i => { i.id = i.id.replace(/(\d+)$/, "") + n; });
    next.querySelectorAll(".warns").forEach(w => w.remove()); next.querySelectorAll("[data-taken]").forEach(i => { delete i.dataset.taken; });
    next.querySelectorAll("[name]").forEach(i => { i.name = i.name.replace(/\[\d+\]/, `[${n}]`); if (i.type !== "checkbox") i.value = i.dataset.start || ""; });
    next.querySelectorAll("[data-clear]").forEach(x => x.replaceChildren());
    body.append(next);
    window.htmx?.process(next);
  };
  document.addEventListener("input", e => {
    const body = e.target.closest("tbody[data-grows]");
    if (body && e.target.closest("tr") === body.lastElementChild) grow(body);
  });

  // What the answer says of each line goes beside the line.
  document.addEventListener("htmx:afterSwap", e => {
    for (const said of e.detail.target?.querySelector("template[data-beside]")?.content.children ?? []) {
      const place = document.getElementById(said.dataset.for);
      if (!place) continue;
      if (said.dataset.cant) place.dataset.cant = said.dataset.cant; else delete place.dataset.cant;
      if (place.innerHTML !== said.innerHTML) place.innerHTML = said.innerHTML;
    }
  });

  // A form that is being tried survives a walk to the place where something is mended, until it is posted.
  const kept = document.querySelector("form[data-kept]"), keptKey = "kept:" + location.pathname + ":" + kept?.dataset.kept;
  const field = (form, name) => form.elements.namedItem(name);
  if (kept) {
    const fields = () => [...kept.elements].filter(f => f.name && f.type !== "hidden");
    const begun = [...new URLSearchParams(location.search).keys()].some(name => name !== "type"), stored = begun ? null : JSON.parse(sessionStorage.getItem(keptKey) || "null");
    if (stored && !kept.dataset.answered) {
      const body = kept.querySelector("tbody[data-grows]");
      for (const [name, value] of stored) {
        while (body && /\[\d+\]/.test(name) && !field(kept, name) && body.children.length < 500) grow(body);
        const f = field(kept, name);
        if (f?.type === "checkbox") f.checked = value; else if (f) f.value = value;
      }
      // The form listens only once the page is ready.
      document.addEventListener("DOMContentLoaded", () => kept.dispatchEvent(new Event("change", { bubbles: true })));
    }
    let waiting = 0;
    const keep = () => { waiting = 0; if (!gone) sessionStorage.setItem(keptKey, JSON.stringify(fields().map(f => [f.name, f.type === "checkbox" ? f.checked : f.value]))); };
    const forget = () => { clearTimeout(waiting); waiting = 0; sessionStorage.removeItem(keptKey); };
    kept.addEventListener("input", () => { waiting ||= setTimeout(keep, 100); });
    window.addEventListener("pagehide", () => { if (waiting) keep(); });
    kept.addEventListener("submit", forget);
    kept.querySelector("[data-empty]")?.addEventListener("click", forget);
  }
})();
