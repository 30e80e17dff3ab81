// Names of the fields of a line that is added to a form.
import assert from "node:assert/strict";
import { nextId, nextName } from "../../src/Assignum.Web/wwwroot/page/numbering.js";

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
