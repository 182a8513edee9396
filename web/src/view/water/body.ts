import type * as THREE from "three";

/** What water is, besides where it lies. */
export interface Water {
  level: number;
  clarity: number;
  colour: number[];
}

/** What a level of water is drawn by, besides what all water shares. */
export interface Mirrored {
  mirror: { value: THREE.Texture | null };
  toMirror: { value: THREE.Matrix4 };
  /** Whether there is a mirror's picture; without one the sky alone is mirrored. */
  mirrors: { value: number };
}

/** A level of water in a view. */
export interface Body {
  mesh: THREE.Mesh;
  level: number;
  mirrored: Mirrored;
}
