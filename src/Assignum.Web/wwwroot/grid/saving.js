// What an edit changes: sent, answered, kept where it could not be saved, undone.
import * as answers from "./answers.js";
import * as block from "./block.js";
import { element } from "./measures.js";

const A = window.Assignum;

export const saving = {
  clear() {
    const cells = block.clear(this.data, this.range());
    if (cells.length) this.send(cells);
    else this.tell("Nothing to clear: no cell chosen has a rule of its own.");
  },

  fill(down) {
    const cells = block.fill(this.data, this.range(), down);
    if (cells.length) this.send(cells);
  },

  copy(e) {
    if (this.edit) return;
    const chosen = this.range();
    e.clipboardData.setData("text/plain", block.write(this.data, chosen));
    e.preventDefault();
    this.tell(`${answers.places(chosen).length} cells copied.`);
  },

  paste(e) {
    if (!this.editable || this.edit) return;
    e.preventDefault();
    const { over, edits, fault } = block.paste(this.data, block.read(e.clipboardData.getData("text/plain")), this.range());
    if (fault) {
      this.tell(fault, true);
      return;
    }
    this.anchor = { row: over.top, column: over.left };
    this.at = { row: over.bottom, column: over.right };
    if (edits.length) this.send(edits);
  },

  undo() {
    const last = this.undone.pop();
    if (!last) {
      this.tell("Nothing to undo here. Under Editions every change of the draft can be taken back.");
      return;
    }
    this.send(
      last.map(u => ({ ...u, typed: true })),
      true,
    );
  },

  async send(cells, isUndo) {
    const before = cells.map(cell => ({ ...cell, text: cell.own ? cell.answer[0] : "" }));
    const body = cells.map(({ down, across, text, typed, own, answer }) => ({
      row: down,
      column: across,
      text,
      own,
      seen: own ? answer[0] : null,
      typed: !!typed,
    }));
    this.tell("Saving …");
    this.pane.setAttribute("aria-busy", "true");
    let answer;
    try {
      const response = await A.ask(this.handler("cells") + "&stamp=" + encodeURIComponent(this.data.stamp ?? ""), {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(body),
      });
      if (!response) {
        this.keep(cells, "Not saved: you are not signed in. What you typed stands in the cells; press Enter in one of them to send it again.");
        return;
      }
      answer = response.ok ? await response.json() : null;
    } catch {
      answer = null;
    }
    this.pane.removeAttribute("aria-busy");
    if (!answer) {
      if (isUndo) this.undone.push(cells);
      this.keep(
        cells,
        "The server did not answer as it should, and nothing was changed. What you typed stands in the cells; press Enter in one of them to try again.",
      );
      return;
    }
    this.faults.clear();
    if (answer.faults.length) {
      for (const [i, message] of answer.faults)
        if (i >= 0) {
          const { row, column } = this.find(cells[i]);
          this.faults.set(row + ":" + column, { message, text: cells[i].text });
        }
      this.tell(answers.refusal(answer.faults, cells), true);
      this.draw();
      return;
    }
    if (answer.grid.isPart) {
      answers.lay(this.data, answer.grid);
      this.draw();
    } else this.take(answer.grid);
    this.data.stamp = answer.stamp;
    // What stands there now is what an undo must still find there.
    if (!isUndo)
      this.undone.push(
        before.map(cell => {
          const { row, column } = this.find(cell);
          return row < 0 || column < 0 ? cell : { ...this.seen(row, column), text: cell.text };
        }),
      );
    this.warn(answer.warnings);
    this.tell(isUndo ? answers.undone(cells) : answer.said);
    document.body.dispatchEvent(new CustomEvent("draft-seen", { detail: { text: answer.draft, stamp: answer.stamp } }));
    document.body.dispatchEvent(new CustomEvent("cells-changed"));
  },

  // What could not be saved stays to be seen, each in its cell.
  keep(cells, why) {
    this.pane.removeAttribute("aria-busy");
    this.faults.clear();
    for (const cell of cells) {
      const { row, column } = this.find(cell);
      if (row >= 0 && column >= 0) this.faults.set(row + ":" + column, { message: "not saved", text: cell.text });
    }
    this.tell(why, true);
    this.draw();
  },

  // What was taken and yet speaks against itself.
  warn(warnings) {
    this.warned?.remove();
    this.warned = null;
    if (!warnings?.length) return;
    this.warned = element("p", "said caution", warnings.join(" "));
    this.warned.setAttribute("role", "status");
    this.said.after(this.warned);
  },
};
