// The part of the grid that is in view, and its cells.
import { HEAD, ROW, SIDE, WIDTH, element } from "./measures.js";

export const drawing = {
  // Few columns share the width there is, also when the drawer takes its part of it.
  fit() {
    if (!this.data) return;
    this.width = Math.max(WIDTH, Math.min(this.columns === 1 ? 320 : 999, Math.floor((this.host.clientWidth - SIDE - 2) / this.columns)));
    this.board.style.width = SIDE + this.columns * this.width + "px";
    this.board.style.height = HEAD + this.rows * ROW + 1 + "px";
  },

  // The part in view, with a margin so that moving by one never shows a hole.
  draw() {
    if (!this.data) return;
    const { scrollTop, scrollLeft, clientHeight, clientWidth } = this.pane;
    const top = Math.max(0, Math.floor(scrollTop / ROW) - 1),
      bottom = Math.min(this.rows, Math.ceil((scrollTop + clientHeight) / ROW) + 1);
    const left = Math.max(0, Math.floor(scrollLeft / this.width) - 1),
      right = Math.min(this.columns, Math.ceil((scrollLeft + clientWidth) / this.width) + 1);
    const parts = [],
      head = element("div", "heads");
    head.setAttribute("role", "row");
    head.style.width = this.board.style.width;
    const corner = element("div", "corner", this.data.down);
    corner.setAttribute("role", "columnheader");
    head.append(corner);
    for (let c = left; c < right; c++) {
      const column = this.data.columns[c],
        h = element("div", "colhead" + (column.code === null ? " any" : ""), column.code ?? column.name);
      h.setAttribute("role", "columnheader");
      h.title = column.name;
      h.style.left = SIDE + c * this.width + "px";
      h.style.width = this.width + "px";
      head.append(h);
    }
    parts.push(head);
    for (let r = top; r < bottom; r++) {
      const row = this.data.rows[r],
        line = element("div", "line");
      line.setAttribute("role", "row");
      line.setAttribute("aria-rowindex", r + 2);
      line.style.top = HEAD + r * ROW + "px";
      line.style.width = this.board.style.width;
      const side = element("div", "side" + (row.code === null ? " any" : ""));
      side.setAttribute("role", "rowheader");
      side.append(element("b", "", row.code ?? row.name));
      if (row.code !== null && row.name) side.append(element("small", "", row.name));
      side.title = row.name;
      line.append(side);
      for (let c = left; c < right; c++) line.append(this.drawn(r, c));
      parts.push(line);
    }
    // What is being typed stays where it is: taken out and put back it would lose the focus.
    for (const child of [...this.board.children]) if (child !== this.edit?.box) child.remove();
    this.board.prepend(...parts);
    if (this.rows === 0) this.board.append(element("p", "empty", "No row fits. Clear the filter, or add what is missing to its list."));
  },

  drawn(r, c) {
    const { answer, origin, own, open } = this.cell(r, c),
      d = element("div", "cell o-" + origin),
      fault = this.faults.get(r + ":" + c);
    d.id = this.id(r, c);
    d.setAttribute("role", "gridcell");
    d.setAttribute("aria-colindex", c + 2);
    d.style.left = SIDE + c * this.width + "px";
    d.style.width = this.width + "px";
    d.dataset.row = r;
    d.dataset.column = c;
    if (fault) {
      d.classList.add("bad");
      d.append(element("b", "", fault.text || "fall back"), " ", element("small", "", fault.message));
      d.title = fault.message;
    } else if (answer) {
      d.append(element("b", "", answer[0]), " ", element("small", "", answer[1]));
      d.title = answer[0] + " " + answer[1];
      if (answer[2] === "s") d.classList.add("suspense");
      if (answer[2] === "x") d.classList.add("unpostable");
    } else if (this.data.rows[r].code === null || this.data.columns[c].code === null) {
      d.classList.add("quiet");
      d.append(element("b", "", "–"), " ", element("small", "", "no rule for any"));
    } else d.append(element("b", "", "no rule"), " ", element("small", "", this.editable && open ? this.host.dataset.hint : ""));
    if (!open) d.classList.add("shut");
    const chosen = this.inRange(r, c);
    d.setAttribute("aria-selected", chosen);
    if (chosen) d.classList.add("in");
    if (r === this.at.row && c === this.at.column) {
      d.classList.add("at");
      this.pane.setAttribute("aria-activedescendant", d.id);
    }
    const words = {
      n: "nothing answers",
      o: "own rule" + (own ? " " + own : ""),
      r: "from " + this.data.down,
      c: "from " + this.data.across,
      b: "from both sides",
      d: "default",
    };
    d.setAttribute(
      "aria-label",
      `${this.data.rows[r].code ?? "any"}, ${this.data.columns[c].code ?? "any"}: ${[...d.children]
        .map(x => x.textContent)
        .filter(Boolean)
        .join(" ")}, ${words[origin]}${answer?.[2] === "s" ? ", suspense" : ""}${fault ? ", " + fault.message : ""}`,
    );
    return d;
  },

  settle() {
    clearTimeout(this.settling);
    this.settling = setTimeout(() => {
      const whole = Math.round(this.pane.scrollTop / ROW) * ROW;
      if (Math.abs(whole - this.pane.scrollTop) > 1 && this.pane.scrollTop + this.pane.clientHeight < this.pane.scrollHeight - 1) this.pane.scrollTop = whole;
    }, 120);
  },
};
