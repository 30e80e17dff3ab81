// An answer typed into a cell, from its first letter until it is taken or left.
import { HEAD, ROW, SIDE, element } from "./measures.js";

const A = window.Assignum;

export const typing = {
  begin(first) {
    if (!this.editable || this.edit) return;
    const { row, column } = this.at,
      { answer, open } = this.cell(row, column),
      fault = this.faults.get(row + ":" + column);
    if (!open) {
      this.tell("The ladder has no rung for this cell. Add it under Ladder.", true);
      return;
    }
    const box = element("div", "editor"),
      input = element("input");
    input.autocomplete = "off";
    input.spellcheck = false;
    input.dataset.pick = this.host.dataset.choose;
    input.dataset.pickGiven = "";
    input.setAttribute("role", "combobox");
    if (this.host.dataset.purpose) input.dataset.purpose = this.host.dataset.purpose;
    input.setAttribute("aria-label", `${this.data.rows[row].code ?? "any"}, ${this.data.columns[column].code ?? "any"}`);
    input.value = first ?? fault?.text ?? answer?.[0] ?? "";
    box.style.left = SIDE + column * this.width + "px";
    box.style.top = HEAD + row * ROW + "px";
    box.style.width = Math.max(this.width, 180) + "px";
    box.append(input);
    this.board.append(box);
    this.edit = { box, input, cell: this.seen(row, column) };
    input.addEventListener("keydown", e => {
      e.stopPropagation();
      if (e.key === "Escape") {
        e.preventDefault();
        const typed = input.value.trim(),
          was = this.edit.cell.answer?.[0] ?? "";
        this.end();
        if (typed !== was) this.tell(`Left as it was: “${typed}” is not saved.`);
      } else if (e.key === "Enter") {
        e.preventDefault();
        this.commitFirst(e.shiftKey ? -1 : 1);
      } else if (e.key === "Tab") {
        e.preventDefault();
        this.commit(0, e.shiftKey ? -1 : 1);
      }
    });
    input.addEventListener("blur", () => {
      if (this.edit?.input === input) this.commit(0, 0);
    });
    input.focus();
    if (first === undefined) input.select();
    else input.dispatchEvent(new Event("input", { bubbles: true }));
  },

  // Enter takes the first of what is offered; the cell waits for it and never goes back without a word.
  async commitFirst(down) {
    const edit = this.edit,
      typed = edit.input.value.trim();
    if (typed === (edit.cell.answer?.[0] ?? "") || typed === "") {
      this.commit(down, 0);
      return;
    }
    const first = await A.pickFirst(edit.input).catch(() => typed);
    if (this.edit !== edit) return;
    edit.input.value = first;
    this.commit(down, 0);
  },

  end() {
    A.closePicks();
    const edit = this.edit;
    this.edit = null;
    edit?.box.remove();
    this.pane.focus();
    this.draw();
  },

  commit(down, right) {
    // What was seen when the typing began; the grid may have been drawn anew since, and others may have been there.
    const { cell, input } = this.edit,
      text = input.value.trim(),
      { row, column } = cell,
      { answer, own } = cell;
    this.end();
    // An untouched answer that is not the cell's own stays what it is.
    const untouched = text === (answer?.[0] ?? "") && !this.faults.has(row + ":" + column);
    if (!untouched && !(text === "" && !own)) this.send([{ ...cell, text, typed: true }]);
    this.go(row + down, column + right);
  },
};
