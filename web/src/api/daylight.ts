/** One kind of what falls or floats through the air. */
export interface Drift {
  kind: string;
  /** Of those large enough to be seen, a cubic metre. */
  number: number;
  /** Their usual width, metres, and how much longer they are. */
  wide: number;
  long: number;
  /** Metres a second downwards, and sideways in a wind that has rain come at 45°. */
  falls: number;
  carried: number;
  /** Seconds for which one is seen, as a streak. */
  shutter: number;
  /** How far one strays, metres, and how often a second it tumbles. */
  sways: number;
  turns: number;
  /** Of what is behind it, from 0 to 1. */
  hides: number;
  /** The side of the cube about the eye that single ones are shown in, metres. */
  about: number;
  /** Whether there is none under what keeps rain off. */
  sheltered: boolean;
  /** Radiance of three of them. */
  colours: number[][];
}

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
  /** What fog sends of what comes to it from all sides, and what it scatters on of the sun's light. */
  fog: number[];
  fog_sun: number[];
  /** What the haze makes of the colour of the sky above it. */
  dust: number[];
  /** Extinction of haze and fog a metre, how high fog lies and thins out, how far it gathers in banks, and of what size; banks to a side of their map; how sharp the lobe of what is scattered onwards is. */
  air: {
    haze: number;
    fog: number;
    top: number;
    fade: number;
    banks: number;
    size: number;
    side: number;
    lobe: number;
  };
  drifts: Drift[];
  /** By how much all is made brighter to be shown; and how bright what glows with a strength of 1 is then. */
  scale: number;
  /** How many times as much as without a fog, which is how what is above is told. */
  brighter: number;
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
