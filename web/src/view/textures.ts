import * as THREE from "three";
import { drawnByProcessor } from "../site/machine";

/** A picture out of a pack: rows of RGBA bytes. */
export interface Pixels {
  data: unknown;
  shape: number[];
}

interface How {
  /** Whether it holds colour, as sRGB, and not numbers. */
  colour?: boolean;
  /** Whether it repeats beyond its edges, and does not end there. */
  wraps?: boolean;
}

/** A texture as the server composes or bakes it, with smaller copies for what is far away. */
export function textureOf({ data, shape }: Pixels, { colour = false, wraps = false }: How = {}): THREE.DataTexture {
  const texture = new THREE.DataTexture(
    data as Uint8Array,
    shape[1],
    shape[0],
    THREE.RGBAFormat,
    THREE.UnsignedByteType,
  );
  texture.colorSpace = colour ? THREE.SRGBColorSpace : THREE.NoColorSpace;
  if (wraps) texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.magFilter = THREE.LinearFilter;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.anisotropy = drawnByProcessor ? 1 : 4;
  texture.needsUpdate = true;
  return texture;
}
