import * as THREE from "three";

/** Texels along a side of the ripples' tile. */
const SIDE = 128;
/** Crests of its waves along a side, in both directions: they go on over its borders. */
const WAVES = [
  [3, 1, 0.5],
  [1, 4, 1.7],
  [5, -2, 2.9],
  [-3, 6, 0.3],
  [8, 5, 4.1],
  [2, -7, 5.2],
  [-9, 4, 1.1],
  [11, 7, 3.6],
  [6, -13, 0.9],
  [14, 2, 2.2],
];
/** Rays along a side of the tile that caustics are counted by, how deep below the ripples, of a side, and the index of water. */
const RAYS = 384;
const DEEP = 0.3;
const INDEX = 1.33;
/** How steep the ripples are while caustics are counted: about a breeze. */
const STEEP = 0.12;

/** How steep ripples are along two axes, as one is steep on the whole: (SIDE², 2), each of mean square 1. */
export function rippleSlopes(): Float32Array {
  const slopes = new Float32Array(SIDE * SIDE * 2);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const at = (y * SIDE + x) * 2;
      for (const [a, b, phase] of WAVES) {
        const long = Math.hypot(a, b);
        // Of waves that are as high as they are long, each is as steep as the next.
        const steep = Math.cos(((a * x + b * y) / SIDE) * 2 * Math.PI + phase);
        slopes[at] += (a / long) * steep;
        slopes[at + 1] += (b / long) * steep;
      }
    }
  let squares = 0;
  for (const one of slopes) squares += one * one;
  const scale = 1 / Math.sqrt(squares / slopes.length);
  return slopes.map((one) => one * scale);
}

/** How much light comes to a floor below such ripples, its mean 1: rays from above, bent by Snell's law, counted where they arrive. */
export function causticsBelow(slopes: Float32Array): Float32Array {
  const light = new Float32Array(SIDE * SIDE);
  const each = (SIDE * SIDE) / (RAYS * RAYS);
  const far = DEEP * SIDE * STEEP * (1 - 1 / INDEX);
  for (let row = 0; row < RAYS; row++)
    for (let column = 0; column < RAYS; column++) {
      const x = (column / RAYS) * SIDE;
      const y = (row / RAYS) * SIDE;
      const at = ((Math.round(y) % SIDE) * SIDE + (Math.round(x) % SIDE)) * 2;
      const [u, v] = [x - slopes[at] * far, y - slopes[at + 1] * far];
      const [left, top] = [Math.floor(u), Math.floor(v)];
      const [f, g] = [u - left, v - top];
      const wrap = (one: number) => ((one % SIDE) + SIDE) % SIDE;
      const put = (i: number, j: number, share: number) => (light[wrap(j) * SIDE + wrap(i)] += each * share);
      put(left, top, (1 - f) * (1 - g));
      put(left + 1, top, f * (1 - g));
      put(left, top + 1, (1 - f) * g);
      put(left + 1, top + 1, f * g);
    }
  return light;
}

let made: THREE.DataTexture | null = null;

/** Ripples that all water shares: slopes along x and z, and in blue the light below them. */
export function rippleTexture(): THREE.DataTexture {
  if (made) return made;
  const slopes = rippleSlopes();
  const light = causticsBelow(slopes);
  const data = new Uint16Array(SIDE * SIDE * 4);
  const half = THREE.DataUtils.toHalfFloat;
  for (let i = 0; i < SIDE * SIDE; i++)
    data.set([half(slopes[i * 2]), half(slopes[i * 2 + 1]), half(Math.min(light[i], 8)), half(1)], i * 4);
  made = new THREE.DataTexture(data, SIDE, SIDE, THREE.RGBAFormat, THREE.HalfFloatType);
  made.wrapS = made.wrapT = THREE.RepeatWrapping;
  made.magFilter = THREE.LinearFilter;
  made.minFilter = THREE.LinearMipmapLinearFilter;
  made.generateMipmaps = true;
  made.anisotropy = 4;
  made.needsUpdate = true;
  return made;
}
