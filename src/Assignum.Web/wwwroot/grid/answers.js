// What a grid shows: rows, columns and the answers where they meet. Nothing here touches the page.

/** The answer at a place: what is shown, where it comes from, the cell's own rule, and whether it can have one. */
export const cellAt = (data, row, column) => {
  const [answer, origin, own, open] = data.cells[row * data.columns.length + column];
  return { answer: answer < 0 ? null : data.answers[answer], origin, own, open };
};

/** The place of a cell that is known by what it stands for. */
export const find = (data, cell) => ({ row: data.rows.findIndex(r => r.code === cell.down), column: data.columns.findIndex(c => c.code === cell.across) });

/** A cell by what it stands for, with what it shows now. */
export const seen = (data, row, column) => ({ row, column, down: data.rows[row].code, across: data.columns[column].code, ...cellAt(data, row, column) });

/** "SEEDS × TRADE", or "any". */
export const named = cell => [cell.down, cell.across].filter(Boolean).join(" × ") || "any";

/** Lays what an edit changed over what is there; rows and columns that are not shown are passed over. */
export const lay = (data, part) => {
  const places = part.answers.map(answer => {
    const known = data.answers.findIndex(a => a[0] === answer[0]);
    return known >= 0 ? known : data.answers.push(answer) - 1;
  });
  part.rows.forEach((down, i) =>
    part.columns.forEach((across, k) => {
      const { row, column } = find(data, { down: down.code, across: across.code });
      const [answer, ...rest] = part.cells[i * part.columns.length + k];
      if (row >= 0 && column >= 0) data.cells[row * data.columns.length + column] = [answer < 0 ? -1 : places[answer], ...rest];
    }),
  );
};

/** The rectangle between two places. */
export const range = (at, anchor) => ({
  top: Math.min(at.row, anchor.row),
  bottom: Math.max(at.row, anchor.row),
  left: Math.min(at.column, anchor.column),
  right: Math.max(at.column, anchor.column),
});

/** The places of a rectangle, row by row. */
export const places = ({ top, bottom, left, right }) => {
  const all = [];
  for (let row = top; row <= bottom; row++) for (let column = left; column <= right; column++) all.push({ row, column });
  return all;
};

/** What was refused of an edit, in one sentence: how many cells, and the first with its reason. */
export const refusal = (faults, cells) => {
  const [i, message] = faults[0];
  const place = i >= 0 ? `${cells[i].down ?? "any"}, ${cells[i].across ?? "any"}: ` : "";
  if (cells.length === 1) return "Nothing was changed. " + place + message;
  return `${faults.length} of ${cells.length} cells can't be taken, so nothing was changed. ${faults.length > 1 ? "First, " : ""}${place}${message}`;
};

/** What an undo has put back. */
export const undone = cells => {
  const back = cells[0].text ? `says ${cells[0].text} again` : "falls back again";
  return `Undone: ${named(cells[0])} ${back}${cells.length > 1 ? `, and ${cells.length - 1} more` : ""}.`;
};
