/** A colour of the style sheet by name, for the map, which draws on a canvas and knows no style sheets. */
export const colour = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
