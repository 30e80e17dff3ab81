// The grid: answers where two facts meet. Only what is in view is drawn; everything works from the keyboard.
import * as answers from "./grid/answers.js";
import * as block from "./grid/block.js";

const A = window.Assignum;
const HEAD = 30, ROW = 44, SIDE = 132, WIDTH = 122;
const element = (name, className, text) => { const e = document.createElement(name); if (className) e.className = className; if (text !== undefined) e.textContent = text; return e; };

class Grid {
  constructor(host) {
    this.host = host; this.address = host.dataset.grid; this.editable = host.dataset.editable === "yes";
    this.at = { row: 0, column: 0 }; this.anchor = { row: 0, column: 0 }; this.undone = []; this.faults = new Map(); this.edit = null;
    this.said = element("p", "said-grid"); this.said.setAttribute("role", "status"); this.said.setAttribute("aria-live", "polite");
    this.pane = element("div", "pane"); this.pane.tabIndex = 0; this.pane.setAttribute("role", "grid"); this.pane.setAttribute("aria-label", host.getAttribute("aria-label"));
    this.board = element("div", "board"); this.pane.append(this.board); host.append(this.pane, this.said);
    this.pane.addEventListener("scroll", () => { this.draw(); this.settle(); });
    this.pane.addEventListener("keydown", e => this.key(e));
    this.pane.addEventListener("mousedown", e => this.point(e));
    this.pane.addEventListener("dblclick", () => this.begin());
    this.pane.addEventListener("copy", e => this.copy(e)); this.pane.addEventListener("paste", e => this.paste(e));
    this.pane.addEventListener("focus", () => this.draw()); this.pane.addEventListener("blur", () => this.draw());
    new ResizeObserver(() => { this.fit(); this.draw(); }).observe(this.pane);
    document.body.addEventListener("draft-changed", () => { if (!this.edit) this.load(); });
    this.load().then(() => { this.begun(); if (document.activeElement === document.body || document.activeElement === null) this.pane.focus({ preventScroll: true }); });
  }

  // A page may be opened at a cell.
  begun() {
    const asked = new URLSearchParams(location.search), row = this.data?.rows.findIndex(x => x.code === asked.get("row")) ?? -1, column = this.data?.columns.findIndex(x => x.code === asked.get("column")) ?? -1;
    if (asked.has("row") && row >= 0 && column >= 0) this.go(row, column);
  }

  handler(name) { return this.address + "&handler=" + name; }

  async load() {
    const answer = await A.ask(this.handler("cells"), { headers: { Accept: "application/json" } }).catch(() => null);
    if (answer?.ok) this.take(await answer.json()); else this.tell("The grid could not be read. Load the page again.", true);
  }

  take(data) {
    this.data = data; this.rows = data.rows.length; this.columns = data.columns.length;
    this.at.row = Math.min(this.at.row, Math.max(0, this.rows - 1)); this.at.column = Math.min(this.at.column, this.columns - 1);
    this.fit();
    // Whole rows: none is cut, at the bottom or, once it has been scrolled, at the top.
    const room = Math.max(260, window.innerHeight - this.pane.getBoundingClientRect().top - 76), bar = this.pane.offsetHeight - this.pane.clientHeight;
    this.pane.style.height = (this.rows * ROW + HEAD + 1 <= room ? HEAD + this.rows * ROW + 1 : HEAD + Math.floor((room - HEAD - bar) / ROW) * ROW) + bar + "px";
    this.pane.setAttribute("aria-rowcount", this.rows + 1); this.pane.setAttribute("aria-colcount", this.columns + 1);
    const pages = document.querySelector("[data-pages]"), more = document.querySelector("[data-more]");
    if (pages) { const further = +this.host.dataset.from + +this.host.dataset.most < data.total; more.hidden = !further; pages.hidden = !further && +this.host.dataset.from === 0; }
    this.draw();
  }

  settle() {
    clearTimeout(this.settling);
    this.settling = setTimeout(() => { const whole = Math.round(this.pane.scrollTop / ROW) * ROW; if (Math.abs(whole - this.pane.scrollTop) > 1 && this.pane.scrollTop + this.pane.clientHeight < this.pane.scrollHeight - 1) this.pane.scrollTop = whole; }, 120);
  }

  // Few columns share the width there is, also when the drawer takes its part of it.
  fit() {
    if (!this.data) return;
    this.width = Math.max(WIDTH, Math.min(this.columns === 1 ? 320 : 999, Math.floor((this.host.clientWidth - SIDE - 2) / this.columns)));
    this.board.style.width = SIDE + this.columns * this.width + "px"; this.board.style.height = HEAD + this.rows * ROW + 1 + "px";
  }

  cell(row, column) { return answers.cellAt(this.data, row, column); }

  // The part in view, with a margin so that moving by one never shows a hole.
  draw() {
    if (!this.data) return;
    const { scrollTop, scrollLeft, clientHeight, clientWidth } = this.pane;
    const top = Math.max(0, Math.floor(scrollTop / ROW) - 1), bottom = Math.min(this.rows, Math.ceil((scrollTop + clientHeight) / ROW) + 1);
    const left = Math.max(0, Math.floor(scrollLeft / this.width) - 1), right = Math.min(this.columns, Math.ceil((scrollLeft + clientWidth) / this.width) + 1);
    const parts = [], head = element("div", "heads"); head.setAttribute("role", "row"); head.style.width = this.board.style.width;
    const corner = element("div", "corner", this.data.down); corner.setAttribute("role", "columnheader"); head.append(corner);
    for (let c = left; c < right; c++) {
      const column = this.data.columns[c], h = element("div", "colhead" + (column.code === null ? " any" : ""), column.code ?? column.name);
      h.setAttribute("role", "columnheader"); h.title = column.name; h.style.left = SIDE + c * this.width + "px"; h.style.width = this.width + "px"; head.append(h);
    }
    parts.push(head);
    for (let r = top; r < bottom; r++) {
      const row = this.data.rows[r], line = element("div", "line"); line.setAttribute("role", "row"); line.setAttribute("aria-rowindex", r + 2); line.style.top = HEAD + r * ROW + "px"; line.style.width = this.board.style.width;
      const side = element("div", "side" + (row.code === null ? " any" : "")); side.setAttribute("role", "rowheader"); side.append(element("b", "", row.code ?? row.name)); if (row.code !== null && row.name) side.append(element("small", "", row.name)); side.title = row.name; line.append(side);
      for (let c = left; c < right; c++) line.append(this.drawn(r, c));
      parts.push(line);
    }
    // What is being typed stays where it is: taken out and put back it would lose the focus.
    for (const child of [...this.board.children]) if (child !== this.edit?.box) child.remove();
    this.board.prepend(...parts);
    if (this.rows === 0) this.board.append(element("p", "empty", "No row fits. Clear the filter, or add what is missing to its list."));
  }

  drawn(r, c) {
    const { answer, origin, own, open } = this.cell(r, c), d = element("div", "cell o-" + origin), fault = this.faults.get(r + ":" + c);
    d.id = this.id(r, c); d.setAttribute("role", "gridcell"); d.setAttribute("aria-colindex", c + 2); d.style.left = SIDE + c * this.width + "px"; d.style.width = this.width + "px"; d.dataset.row = r; d.dataset.column = c;
    if (fault) { d.classList.add("bad"); d.append(element("b", "", fault.text || "fall back"), " ", element("small", "", fault.message)); d.title = fault.message; }
    else if (answer) {
      d.append(element("b", "", answer[0]), " ", element("small", "", answer[1])); d.title = answer[0] + " " + answer[1];
      if (answer[2] === "s") d.classList.add("suspense"); if (answer[2] === "x") d.classList.add("unpostable");
    } else if (this.data.rows[r].code === null || this.data.columns[c].code === null) { d.classList.add("quiet"); d.append(element("b", "", "–"), " ", element("small", "", "no rule for any")); }
    else d.append(element("b", "", "no rule"), " ", element("small", "", this.editable && open ? this.host.dataset.hint : ""));
    if (!open) d.classList.add("shut");
    const chosen = this.inRange(r, c); d.setAttribute("aria-selected", chosen); if (chosen) d.classList.add("in");
    if (r === this.at.row && c === this.at.column) { d.classList.add("at"); this.pane.setAttribute("aria-activedescendant", d.id); }
    const words = { n: "nothing answers", o: "own rule" + (own ? " " + own : ""), r: "from " + this.data.down, c: "from " + this.data.across, b: "from both sides", d: "default" };
    d.setAttribute("aria-label", `${this.data.rows[r].code ?? "any"}, ${this.data.columns[c].code ?? "any"}: ${[...d.children].map(x => x.textContent).filter(Boolean).join(" ")}, ${words[origin]}${answer?.[2] === "s" ? ", suspense" : ""}${fault ? ", " + fault.message : ""}`);
    return d;
  }

  id(r, c) { return "cell-" + r + "-" + c; }
  range() { return answers.range(this.at, this.anchor); }
  inRange(r, c) { const { top, bottom, left, right } = this.range(); return r >= top && r <= bottom && c >= left && c <= right; }

  go(row, column, extend) {
    this.at = { row: Math.max(0, Math.min(this.rows - 1, row)), column: Math.max(0, Math.min(this.columns - 1, column)) };
    if (!extend) this.anchor = { ...this.at };
    const top = this.at.row * ROW, left = this.at.column * this.width, p = this.pane;
    if (top < p.scrollTop) p.scrollTop = top; else if (top + ROW + HEAD > p.scrollTop + p.clientHeight) p.scrollTop = top + ROW + HEAD - p.clientHeight;
    if (left < p.scrollLeft) p.scrollLeft = left; else if (left + this.width + SIDE > p.scrollLeft + p.clientWidth) p.scrollLeft = left + this.width + SIDE - p.clientWidth;
    this.draw();
  }

  point(e) {
    const d = e.target.closest(".cell"); if (!d || this.edit) return;
    const [row, column] = [+d.dataset.row, +d.dataset.column];
    this.go(row, column, e.shiftKey);
    const move = m => { const over = document.elementFromPoint(m.clientX, m.clientY)?.closest(".cell"); if (over && this.pane.contains(over)) this.go(+over.dataset.row, +over.dataset.column, true); };
    const end = () => { document.removeEventListener("mousemove", move); document.removeEventListener("mouseup", end); };
    document.addEventListener("mousemove", move); document.addEventListener("mouseup", end);
  }

  key(e) {
    if (!this.data || this.rows === 0 || e.target !== this.pane) return;
    const { row, column } = this.at, page = Math.max(1, Math.floor(this.pane.clientHeight / ROW) - 1), ctrl = e.ctrlKey || e.metaKey;
    const done = act => { e.preventDefault(); e.stopPropagation(); act(); };
    if (ctrl && e.key === "Enter") return done(() => this.open());
    if (ctrl && e.key.toLowerCase() === "a") return done(() => { this.anchor = { row: 0, column: 0 }; this.go(this.rows - 1, this.columns - 1, true); });
    if (ctrl && this.editable && e.key.toLowerCase() === "d") return done(() => this.fill(true));
    if (ctrl && this.editable && e.key.toLowerCase() === "r" && this.range().left < this.range().right) return done(() => this.fill(false));
    if (ctrl && this.editable && e.key.toLowerCase() === "z") return done(() => this.undo());
    if (ctrl && !["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight", "Home", "End"].includes(e.key)) return;
    switch (e.key) {
      case "ArrowUp": return done(() => this.go(ctrl ? 0 : row - 1, column, e.shiftKey));
      case "ArrowDown": return done(() => this.go(ctrl ? this.rows : row + 1, column, e.shiftKey));
      case "ArrowLeft": return done(() => this.go(row, ctrl ? 0 : column - 1, e.shiftKey));
      case "ArrowRight": return done(() => this.go(row, ctrl ? this.columns : column + 1, e.shiftKey));
      case "Home": return done(() => this.go(ctrl ? 0 : row, 0, e.shiftKey));
      case "End": return done(() => this.go(ctrl ? this.rows : row, this.columns, e.shiftKey));
      case "PageUp": return done(() => this.go(row - page, column, e.shiftKey));
      case "PageDown": return done(() => this.go(row + page, column, e.shiftKey));
      case "Escape": if (this.faults.size) return done(() => { this.faults.clear(); this.tell(""); this.draw(); }); return;
      case "Enter": case "F2": return done(() => this.editable ? this.begin() : this.open());
      case "Delete": case "Backspace": return this.editable ? done(() => this.clear()) : undefined;
    }
    if (this.editable && e.key.length === 1 && !e.altKey && e.key !== "?" && e.key !== "/") done(() => this.begin(e.key));
  }

  begin(first) {
    if (!this.editable || this.edit) return;
    const { row, column } = this.at, { answer, open } = this.cell(row, column), fault = this.faults.get(row + ":" + column);
    if (!open) { this.tell("The ladder has no rung for this cell. Add it under Ladder.", true); return; }
    const box = element("div", "editor"), input = element("input");
    input.autocomplete = "off"; input.spellcheck = false; input.dataset.pick = this.host.dataset.choose; input.dataset.pickGiven = ""; input.setAttribute("role", "combobox"); if (this.host.dataset.purpose) input.dataset.purpose = this.host.dataset.purpose; input.setAttribute("aria-label", `${this.data.rows[row].code ?? "any"}, ${this.data.columns[column].code ?? "any"}`);
    input.value = first ?? fault?.text ?? answer?.[0] ?? "";
    box.style.left = SIDE + column * this.width + "px"; box.style.top = HEAD + row * ROW + "px"; box.style.width = Math.max(this.width, 180) + "px";
    box.append(input); this.board.append(box); this.edit = { box, input, cell: this.seen(row, column) };
    input.addEventListener("keydown", e => {
      e.stopPropagation();
      if (e.key === "Escape") {
        e.preventDefault();
        const typed = input.value.trim(), was = this.edit.cell.answer?.[0] ?? "";
        this.end();
        if (typed !== was) this.tell(`Left as it was: “${typed}” is not saved.`);
      }
      else if (e.key === "Enter") { e.preventDefault(); this.commitFirst(e.shiftKey ? -1 : 1); }
      else if (e.key === "Tab") { e.preventDefault(); this.commit(0, e.shiftKey ? -1 : 1); }
    });
    input.addEventListener("blur", () => { if (this.edit?.input === input) this.commit(0, 0); });
    input.focus(); if (first === undefined) input.select(); else input.dispatchEvent(new Event("input", { bubbles: true }));
  }

  // A cell as it is seen now, by what it stands for and not by where it stands.
  seen(row, column) { return answers.seen(this.data, row, column); }
  find(cell) { return answers.find(this.data, cell); }
  named(cell) { return answers.named(cell); }

  // Enter takes the first of what is offered; the cell waits for it and never goes back without a word.
  async commitFirst(down) {
    const edit = this.edit, typed = edit.input.value.trim();
    if (typed === (edit.cell.answer?.[0] ?? "") || typed === "") { this.commit(down, 0); return; }
    const first = await A.pickFirst(edit.input).catch(() => typed);
    if (this.edit !== edit) return;
    edit.input.value = first;
    this.commit(down, 0);
  }

  end() { A.closePicks(); const edit = this.edit; this.edit = null; edit?.box.remove(); this.pane.focus(); this.draw(); }

  commit(down, right) {
    // What was seen when the typing began; the grid may have been drawn anew since, and others may have been there.
    const { cell, input } = this.edit, text = input.value.trim(), { row, column } = cell, { answer, own } = cell;
    this.end();
    // An untouched answer that is not the cell's own stays what it is.
    const untouched = text === (answer?.[0] ?? "") && !this.faults.has(row + ":" + column);
    if (!untouched && !(text === "" && !own)) this.send([{ ...cell, text, typed: true }]);
    this.go(row + down, column + right);
  }

  clear() {
    const cells = block.clear(this.data, this.range());
    if (cells.length) this.send(cells); else this.tell("Nothing to clear: no cell chosen has a rule of its own.");
  }

  fill(down) {
    const cells = block.fill(this.data, this.range(), down);
    if (cells.length) this.send(cells);
  }

  copy(e) {
    if (this.edit) return;
    const chosen = this.range();
    e.clipboardData.setData("text/plain", block.write(this.data, chosen)); e.preventDefault();
    this.tell(`${answers.places(chosen).length} cells copied.`);
  }

  paste(e) {
    if (!this.editable || this.edit) return;
    e.preventDefault();
    const { over, edits, fault } = block.paste(this.data, block.read(e.clipboardData.getData("text/plain")), this.range());
    if (fault) { this.tell(fault, true); return; }
    this.anchor = { row: over.top, column: over.left }; this.at = { row: over.bottom, column: over.right };
    if (edits.length) this.send(edits);
  }

  undo() {
    const last = this.undone.pop();
    if (!last) { this.tell("Nothing to undo here. Under Editions every change of the draft can be taken back."); return; }
    this.send(last.map(u => ({ ...u, typed: true })), true);
  }

  async send(cells, isUndo) {
    const before = cells.map(cell => ({ ...cell, text: cell.own ? cell.answer[0] : "" }));
    const body = cells.map(({ down, across, text, typed, own, answer }) => ({ row: down, column: across, text, own, seen: own ? answer[0] : null, typed: !!typed }));
    this.tell("Saving …"); this.pane.setAttribute("aria-busy", "true");
    let answer;
    try {
      const response = await A.ask(this.handler("cells") + "&stamp=" + encodeURIComponent(this.data.stamp ?? ""), { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });
      if (!response) { this.keep(cells, "Not saved: you are not signed in. What you typed stands in the cells; press Enter in one of them to send it again."); return; }
      answer = response.ok ? await response.json() : null;
    } catch { answer = null; }
    this.pane.removeAttribute("aria-busy");
    if (!answer) { if (isUndo) this.undone.push(cells); this.keep(cells, "The server did not answer as it should, and nothing was changed. What you typed stands in the cells; press Enter in one of them to try again."); return; }
    this.faults.clear();
    if (answer.faults.length) {
      for (const [i, message] of answer.faults) if (i >= 0) { const { row, column } = this.find(cells[i]); this.faults.set(row + ":" + column, { message, text: cells[i].text }); }
      const [i, message] = answer.faults[0], place = i >= 0 ? `${cells[i].down ?? "any"}, ${cells[i].across ?? "any"}: ` : "";
      this.tell(`${answer.faults.length > 1 ? `${answer.faults.length} of ${cells.length} cells can't be taken, so nothing was changed. First, ` : cells.length > 1 ? `1 of ${cells.length} cells can't be taken, so nothing was changed. ` : "Nothing was changed. "}${place}${message}`, true);
      this.draw(); return;
    }
    if (answer.grid.isPart) { answers.lay(this.data, answer.grid); this.draw(); } else this.take(answer.grid);
    this.data.stamp = answer.stamp;
    // What stands there now is what an undo must still find there.
    if (!isUndo) this.undone.push(before.map(cell => { const { row, column } = this.find(cell); return row < 0 || column < 0 ? cell : { ...this.seen(row, column), text: cell.text }; }));
    this.warn(answer.warnings); this.tell(isUndo ? `Undone: ${this.named(cells[0])} ${cells[0].text ? "says " + cells[0].text + " again" : "falls back again"}${cells.length > 1 ? `, and ${cells.length - 1} more` : ""}.` : answer.said);
    document.body.dispatchEvent(new CustomEvent("draft-seen", { detail: { text: answer.draft, stamp: answer.stamp } }));
    document.body.dispatchEvent(new CustomEvent("cells-changed"));
  }

  // What could not be saved stays to be seen, each in its cell.
  keep(cells, why) {
    this.pane.removeAttribute("aria-busy"); this.faults.clear();
    for (const cell of cells) { const { row, column } = this.find(cell); if (row >= 0 && column >= 0) this.faults.set(row + ":" + column, { message: "not saved", text: cell.text }); }
    this.tell(why, true); this.draw();
  }

  open() {
    const { row, column } = this.at, value = (name, code) => code === null ? "" : `&${name}=${encodeURIComponent(code)}`;
    window.htmx.ajax("GET", this.handler("cell") + value("row", this.data.rows[row].code) + value("column", this.data.columns[column].code), { target: "#drawer" });
  }

  // What was taken and yet speaks against itself.
  warn(warnings) { this.warned?.remove(); this.warned = null; if (!warnings?.length) return; this.warned = element("p", "said caution", warnings.join(" ")); this.warned.setAttribute("role", "status"); this.said.after(this.warned); }

  tell(text, fault) { this.said.textContent = text; this.said.classList.toggle("fault", !!fault); this.said.setAttribute("role", fault ? "alert" : "status"); }
}

document.querySelectorAll("[data-grid]").forEach(host => { host.grid = new Grid(host); });
