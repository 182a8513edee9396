/** What sun, moon and sky send, exposed; linear light. */
export interface DaylightMeta {
  /** Towards what shines brightest. */
  direction: number[];
  direct: number[];
  /** What comes to level ground from the sky, and to what faces straight down. */
  above: number[];
  below: number[];
  horizon: number[];
  zenith: number[];
  /** By how much all is made brighter to be shown; and how bright what glows with a strength of 1 is then. */
  scale: number;
  glow: number;
}

/** Sun or moon as they are seen. */
export interface Disc {
  /** Towards it. */
  direction: number[];
  /** Half of how wide it looks, radians. */
  radius: number;
  radiance: number[];
  /** Whence it is lit; none for the sun. */
  lit_from: number[] | null;
}

/** What is seen above the horizon besides the sky itself. */
export interface AboveMeta {
  discs: Disc[];
}
