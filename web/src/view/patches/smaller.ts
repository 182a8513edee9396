/** A picture of RGBA bytes at half its size: each texel the mean of four. Colours that are sRGB are averaged as they are. */
export function halved(data: Uint8Array, side: number): Uint8Array {
  const half = side >> 1;
  const out = new Uint8Array(half * half * 4);
  for (let y = 0, to = 0; y < half; y++)
    for (let x = 0, at = 2 * y * side * 4; x < half; x++, at += 4)
      for (let c = 0; c < 4; c++, at++)
        out[to++] = (data[at] + data[at + 4] + data[at + side * 4] + data[at + side * 4 + 4] + 2) >> 2;
  return out;
}
