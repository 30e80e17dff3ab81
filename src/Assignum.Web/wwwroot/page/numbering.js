// Names of the fields of a line: "Lines[3].Price", "tax-3".
export const nextName = (name, line) => name.replace(/\[\d+\]/, `[${line}]`);
export const nextId = (id, line) => id.replace(/\d+$/, "") + line;
