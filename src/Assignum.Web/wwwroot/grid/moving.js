// Where one stands in the grid: by the mouse, and by keys.
import { HEAD, ROW, SIDE } from "./measures.js";

export const moving = {
  go(row, column, extend) {
    this.at = { row: Math.max(0, Math.min(this.rows - 1, row)), column: Math.max(0, Math.min(this.columns - 1, column)) };
    if (!extend) this.anchor = { ...this.at };
    const top = this.at.row * ROW,
      left = this.at.column * this.width,
      p = this.pane;
    if (top < p.scrollTop) p.scrollTop = top;
    else if (top + ROW + HEAD > p.scrollTop + p.clientHeight) p.scrollTop = top + ROW + HEAD - p.clientHeight;
    if (left < p.scrollLeft) p.scrollLeft = left;
    else if (left + this.width + SIDE > p.scrollLeft + p.clientWidth) p.scrollLeft = left + this.width + SIDE - p.clientWidth;
    this.draw();
  },

  point(e) {
    const d = e.target.closest(".cell");
    if (!d || this.edit) return;
    const [row, column] = [+d.dataset.row, +d.dataset.column];
    this.go(row, column, e.shiftKey);
    const move = m => {
      const over = document.elementFromPoint(m.clientX, m.clientY)?.closest(".cell");
      if (over && this.pane.contains(over)) this.go(+over.dataset.row, +over.dataset.column, true);
    };
    const end = () => {
      document.removeEventListener("mousemove", move);
      document.removeEventListener("mouseup", end);
    };
    document.addEventListener("mousemove", move);
    document.addEventListener("mouseup", end);
  },

  key(e) {
    if (!this.data || this.rows === 0 || e.target !== this.pane) return;
    const { row, column } = this.at,
      page = Math.max(1, Math.floor(this.pane.clientHeight / ROW) - 1),
      ctrl = e.ctrlKey || e.metaKey;
    const done = act => {
      e.preventDefault();
      e.stopPropagation();
      act();
    };
    if (ctrl && e.key === "Enter") return done(() => this.open());
    if (ctrl && e.key.toLowerCase() === "a")
      return done(() => {
        this.anchor = { row: 0, column: 0 };
        this.go(this.rows - 1, this.columns - 1, true);
      });
    if (ctrl && this.editable && e.key.toLowerCase() === "d") return done(() => this.fill(true));
    if (ctrl && this.editable && e.key.toLowerCase() === "r" && this.range().left < this.range().right) return done(() => this.fill(false));
    if (ctrl && this.editable && e.key.toLowerCase() === "z") return done(() => this.undo());
    if (ctrl && !["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight", "Home", "End"].includes(e.key)) return;
    switch (e.key) {
      case "ArrowUp":
        return done(() => this.go(ctrl ? 0 : row - 1, column, e.shiftKey));
      case "ArrowDown":
        return done(() => this.go(ctrl ? this.rows : row + 1, column, e.shiftKey));
      case "ArrowLeft":
        return done(() => this.go(row, ctrl ? 0 : column - 1, e.shiftKey));
      case "ArrowRight":
        return done(() => this.go(row, ctrl ? this.columns : column + 1, e.shiftKey));
      case "Home":
        return done(() => this.go(ctrl ? 0 : row, 0, e.shiftKey));
      case "End":
        return done(() => this.go(ctrl ? this.rows : row, this.columns, e.shiftKey));
      case "PageUp":
        return done(() => this.go(row - page, column, e.shiftKey));
      case "PageDown":
        return done(() => this.go(row + page, column, e.shiftKey));
      case "Escape":
        if (this.faults.size)
          return done(() => {
            this.faults.clear();
            this.tell("");
            this.draw();
          });
        return;
      case "Enter":
      case "F2":
        return done(() => (this.editable ? this.begin() : this.open()));
      case "Delete":
      case "Backspace":
        return this.editable ? done(() => this.clear()) : undefined;
    }
    if (this.editable && e.key.length === 1 && !e.altKey && e.key !== "?" && e.key !== "/") done(() => this.begin(e.key));
  },
};
