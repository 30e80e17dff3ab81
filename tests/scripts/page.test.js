// Names of the fields of a line that is added to a form.
import assert from "node:assert/strict";
import { nextId, nextName } from "../../src/Assignum.Web/wwwroot/page/numbering.js";
import { block, ticked } from "../../src/Assignum.Web/wwwroot/page/pasting.js";

describe("a line that is added", () => {
  it("names its fields by its own number", () => {
    assert.equal(nextName("Lines[0].Price", 12), "Lines[12].Price");
    assert.equal(nextName("Party", 3), "Party");
  });
  it("has ids of its own", () => {
    assert.equal(nextId("tax-9", 10), "tax-10");
    assert.equal(nextId("ships-", 2), "ships-2");
  });
});

describe("a block out of a spreadsheet", () => {
  it("is cells row by row, whatever ends its lines", () => {
    assert.deepEqual(block("6110\t50\r\n6120\t\r\n"), [["6110", "50"], ["6120", ""]]);
    assert.deepEqual(block("a\tb"), [["a", "b"]]);
  });
  it("that is one value pastes as it is", () => {
    assert.equal(block("12.50"), null);
    assert.equal(block("12.50\n"), null);
  });
  it("ticks a box by yes, true, x or 1", () => {
    assert.deepEqual(["yes", " X ", "1", "TRUE", "no", ""].map(ticked), [true, true, true, true, false, false]);
  });
});
