// Sizes of the grid in CSS pixels, and how its parts are made.
export const HEAD = 30;
export const ROW = 44;
export const SIDE = 132;
export const WIDTH = 122;

export const element = (name, className, text) => {
  const e = document.createElement(name);
  if (className) e.className = className;
  if (text !== undefined) e.textContent = text;
  return e;
};
