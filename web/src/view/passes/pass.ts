import type * as THREE from "three";
import type { Frame as Copies } from "../chunks";

/** What is known while a frame is drawn; passes read it, and tell later ones through it. */
export interface Frame {
  gl: THREE.WebGLRenderer;
  scene: THREE.Scene;
  camera: THREE.Camera;
  /** Triangles of placed items that may be drawn, and how much simpler than usual they are drawn: 0 the simplest. */
  budget: number;
  nearer: number;
  /** Whether this frame is one of many while something is dragged or the camera moves. */
  hurried: boolean;
  moving: boolean;
  /** Whether it is the one that is drawn once all is still. */
  still: boolean;
  /** Whether what water mirrors is drawn, which takes about as long as the picture itself: on a slow machine once all is still. */
  mirrors: boolean;
  /** Whether what casts shadows sways meanwhile. */
  blowing: boolean;
  /** Asks for one more frame after this one. */
  invalidate: () => void;
  /** What of the placed items is shown; set by the pass of that name. */
  copies: Copies;
}

/** A pass of a frame: a file of this folder that ends in `.pass.ts`. */
export interface PassModule {
  /** Its place among the passes. */
  order: number;
  name: string;
  /** What it does at each frame of a view; what it remembers is that view's own. */
  make: () => (frame: Frame) => void;
}
