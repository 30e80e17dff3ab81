// The grid's own reckoning: what is chosen, what a paste, a fill or a clearing changes, and what an edit lays over what is shown.
import assert from "node:assert/strict";
import { cellAt, find, lay, named, places, range, refusal, seen, undone } from "../../src/Assignum.Web/wwwroot/grid/answers.js";
import * as block from "../../src/Assignum.Web/wwwroot/grid/block.js";

// Two groups across, "any" and two down; 4010 is the row's own, 4000 the default.
const grid = () => ({
  rows: [{ code: null, name: "any" }, { code: "SEEDS", name: "Seeds" }, { code: "POTS", name: "Pots" }],
  columns: [{ code: null, name: "any" }, { code: "TRADE", name: "Trade" }],
  answers: [["4000", "Sales", ""], ["4010", "Sales of seeds", ""]],
  cells: [[0, "d", null, true], [0, "d", null, true], [1, "o", "r1", true], [1, "r", null, true], [-1, "n", null, false], [0, "d", "r2", true]],
});

describe("answers", () => {
  it("stand row by row, and a cell without one answers nothing", () => {
    assert.deepEqual(cellAt(grid(), 1, 0), { answer: ["4010", "Sales of seeds", ""], origin: "o", own: "r1", open: true });
    assert.equal(cellAt(grid(), 2, 0).answer, null);
  });
  it("are found by what a cell stands for, also after the rows have moved", () => {
    const moved = grid();
    moved.rows.reverse();
    assert.deepEqual(find(moved, { down: "SEEDS", across: "TRADE" }), { row: 1, column: 1 });
    assert.deepEqual(find(moved, { down: "TREES", across: "TRADE" }), { row: -1, column: 1 });
    assert.equal(seen(grid(), 2, 1).own, "r2");
  });
  it("are named by their sides", () => {
    assert.equal(named({ down: "SEEDS", across: "TRADE" }), "SEEDS × TRADE");
    assert.equal(named({ down: null, across: null }), "any");
  });
  it("take over what an edit changed and leave the rest", () => {
    const data = grid(), before = structuredClone(data.cells);
    lay(data, { rows: [{ code: "SEEDS" }, { code: "GONE" }], columns: [{ code: "TRADE" }], answers: [["4030", "Pots", ""], ["4000", "Sales", ""]], cells: [[0, "o", "r9", true], [1, "d", null, true]] });
    assert.deepEqual(cellAt(data, 1, 1), { answer: ["4030", "Pots", ""], origin: "o", own: "r9", open: true });
    assert.equal(data.answers.length, 3);
    assert.deepEqual(data.cells.filter((_, i) => i !== 3), before.filter((_, i) => i !== 3));
  });
  it("fall to nothing where the edit took the last answer", () => {
    const data = grid();
    lay(data, { rows: [{ code: "POTS" }], columns: [{ code: "TRADE" }], answers: [], cells: [[-1, "n", null, true]] });
    assert.equal(cellAt(data, 2, 1).answer, null);
  });
});

describe("a choice", () => {
  it("is the rectangle between two places, whichever was first", () => {
    assert.deepEqual(range({ row: 2, column: 0 }, { row: 1, column: 1 }), { top: 1, bottom: 2, left: 0, right: 1 });
    assert.deepEqual(places({ top: 1, bottom: 1, left: 0, right: 1 }), [{ row: 1, column: 0 }, { row: 1, column: 1 }]);
  });
});

describe("a block", () => {
  it("is read with any line end, and the last one is none of its own", () => {
    assert.deepEqual(block.read("4000\t4010\r\n\t4030\r\n"), [["4000", "4010"], ["", "4030"]]);
    assert.deepEqual(block.read("4000"), [["4000"]]);
  });
  it("is written as it would be read", () => {
    const chosen = { top: 1, bottom: 2, left: 0, right: 1 };
    assert.deepEqual(block.read(block.write(grid(), chosen)), [["4010", "4010"], ["", "4000"]]);
  });
  it("of one value goes into every chosen cell", () => {
    const { edits, over } = block.paste(grid(), [["4099"]], { top: 1, bottom: 2, left: 0, right: 1 });
    assert.deepEqual(edits.map(e => [e.down, e.across, e.text]), [["SEEDS", null, "4099"], ["SEEDS", "TRADE", "4099"], ["POTS", null, "4099"], ["POTS", "TRADE", "4099"]]);
    assert.deepEqual(over, { top: 1, bottom: 2, left: 0, right: 1 });
  });
  it("begins at the first chosen cell, and an empty cell only clears a rule that is there", () => {
    const { edits } = block.paste(grid(), [["", "4020"], ["", ""]], { top: 1, bottom: 1, left: 0, right: 0 });
    assert.deepEqual(edits.map(e => [e.down, e.across, e.text]), [["SEEDS", null, ""], ["SEEDS", "TRADE", "4020"], ["POTS", "TRADE", ""]]);
  });
  it("that does not fit says how much room there is, and changes nothing", () => {
    const { edits, fault } = block.paste(grid(), [["1", "2"], ["3", "4"]], { top: 2, bottom: 2, left: 1, right: 1 });
    assert.equal(edits.length, 0);
    assert.match(fault, /2 rows and 2 columns, and from here the grid has 1 and 1/);
  });
  it("fills down from its first row, a single row from the one above", () => {
    assert.deepEqual(block.fill(grid(), { top: 1, bottom: 2, left: 0, right: 0 }, true).map(e => [e.down, e.text]), [["POTS", "4010"]]);
    assert.deepEqual(block.fill(grid(), { top: 1, bottom: 1, left: 1, right: 1 }, true).map(e => [e.down, e.text]), [["SEEDS", "4000"]]);
    assert.deepEqual(block.fill(grid(), { top: 0, bottom: 0, left: 0, right: 0 }, true), []);
  });
  it("fills right from its first column", () => {
    assert.deepEqual(block.fill(grid(), { top: 1, bottom: 1, left: 0, right: 1 }, false).map(e => [e.across, e.text]), [["TRADE", "4010"]]);
  });
  it("is cleared only where it has rules of its own", () => {
    assert.deepEqual(block.clear(grid(), { top: 0, bottom: 2, left: 0, right: 1 }).map(e => [e.down, e.across, e.own]), [["SEEDS", null, "r1"], ["POTS", "TRADE", "r2"]]);
  });
});

describe("what is said", () => {
  const [seeds, any] = [{ down: "SEEDS", across: "TRADE", text: "9999" }, { down: null, across: null, text: "" }];
  it("names the only cell that was refused, with its reason", () => {
    assert.equal(refusal([[0, "No account 9999."]], [seeds]), "Nothing was changed. SEEDS, TRADE: No account 9999.");
  });
  it("counts the refused of several, and names the first", () => {
    assert.equal(refusal([[1, "a"]], [seeds, any]), "1 of 2 cells can't be taken, so nothing was changed. any, any: a");
    assert.equal(refusal([[0, "a"], [1, "b"]], [seeds, any]), "2 of 2 cells can't be taken, so nothing was changed. First, SEEDS, TRADE: a");
  });
  it("tells what an undo has put back", () => {
    assert.equal(undone([seeds]), "Undone: SEEDS × TRADE says 9999 again.");
    assert.equal(undone([any, seeds]), "Undone: any falls back again, and 1 more.");
  });
});
