// Numbers in fields: as keepers type them, and as they are written back.

// A typed number in base units; NaN when it is none.
export function parse(text, factor = 1) {
  return parseFloat(text.replace(",", ".").replace("−", "-")) * factor;
}

// A number in base units as a field shows it: no more digits than asked for, no zeros behind.
export function shown(value, factor = 1, digits = 2) {
  return String(Number((value / factor).toFixed(digits)));
}
