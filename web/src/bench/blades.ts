/** About so many blades of grass, in a few characters. */
export function blades(count: number): string {
  if (count >= 1e6) return `${(count / 1e6).toFixed(2)} M`;
  return count >= 1000 ? `${Math.round(count / 1000)} k` : `${count}`;
}
