// A block of cells as spreadsheets exchange it: tabs between cells, line ends between rows.
import { cellAt, places, seen } from "./answers.js";

/** The rows of a block; the line end after the last row is none of its own. */
export const read = text =>
  text
    .replace(/\r\n?/g, "\n")
    .replace(/\n$/, "")
    .split("\n")
    .map(line => line.split("\t"));

/** The chosen cells as a block. */
export const write = (data, chosen) => {
  const lines = [];
  for (let row = chosen.top; row <= chosen.bottom; row++) {
    const line = [];
    for (let column = chosen.left; column <= chosen.right; column++) line.push(cellAt(data, row, column).answer?.[0] ?? "");
    lines.push(line.join("\t"));
  }
  return lines.join("\n");
};

/**
 * The edits that pasting a block makes. One value goes into every chosen cell; a block begins at the first of them.
 * Gives the rectangle it covers, and why it can't be pasted where it would not fit.
 */
export const paste = (data, block, chosen) => {
  const one = block.length === 1 && block[0].length === 1,
    width = Math.max(...block.map(line => line.length));
  const over = one ? chosen : { ...chosen, bottom: chosen.top + block.length - 1, right: chosen.left + width - 1 };
  const [rows, columns] = [data.rows.length, data.columns.length];
  if (over.bottom >= rows || over.right >= columns)
    return {
      over,
      edits: [],
      fault:
        `The block has ${block.length} rows and ${width} columns, and from here the grid has ${rows - over.top} and ${columns - over.left}. ` +
        "Begin further up or left.",
    };
  const edits = places(over)
    .map(({ row, column }) => ({ ...seen(data, row, column), text: (one ? block[0][0] : (block[row - over.top][column - over.left] ?? "")).trim() }))
    .filter(cell => cell.text !== "" || cell.own);
  return { over, edits, fault: null };
};

/** The edits that filling makes: down from the first row, or right from the first column; a single row fills from the one above it. */
export const fill = (data, chosen, down) => {
  const single = down && chosen.top === chosen.bottom;
  const from = ({ row, column }) => {
    if (!down) return column > chosen.left ? cellAt(data, row, chosen.left) : null;
    if (single) return row > 0 ? cellAt(data, row - 1, column) : null;
    return row > chosen.top ? cellAt(data, chosen.top, column) : null;
  };
  return places(chosen)
    .map(place => ({ place, answer: from(place)?.answer }))
    .filter(cell => cell.answer)
    .map(cell => ({ ...seen(data, cell.place.row, cell.place.column), text: cell.answer[0] }));
};

/** The edits that clearing makes: only cells with rules of their own fall back. */
export const clear = (data, chosen) =>
  places(chosen)
    .filter(({ row, column }) => cellAt(data, row, column).own)
    .map(({ row, column }) => ({ ...seen(data, row, column), text: "" }));
