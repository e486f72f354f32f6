// A measure drawn along a line. What needs ticks or times takes d3's scales, which the first load does without.
export const along = (low: number, high: number, from: number, to: number) => (value: number) =>
  from + ((Math.min(Math.max(value, low), high) - low) / (high - low)) * (to - from);
