/** Linear light to the screen's encoding (IEC 61966-2-1), both in [0, 1]. */
function encode(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

function decode(shown: number): number {
  return shown <= 0.04045 ? shown / 12.92 : ((shown + 0.055) / 1.055) ** 2.4;
}

/** A linear colour as a page writes it: `#rrggbb`. */
export function toHex(linear: number[]): string {
  const byte = (value: number) => Math.round(Math.min(1, Math.max(0, encode(value))) * 255);
  return `#${linear.map((value) => byte(value).toString(16).padStart(2, "0")).join("")}`;
}

/** The linear colour of `#rrggbb`. */
export function fromHex(hex: string): number[] {
  return [1, 3, 5].map((at) => Number(decode(parseInt(hex.slice(at, at + 2), 16) / 255).toFixed(5)));
}
