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
}
