import type { ThreeEvent } from "@react-three/fiber";
import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { BeamsState, PlacedLamp } from "../api/client";
import { drawnByProcessor } from "../site/machine";
import { poseOf } from "../site/poses";
import { handBusy, useView } from "../site/store";
import { partColours } from "../theme/theme";
import { brightest } from "./daylight";
import { flameMesh, flicker } from "./flames";
import { overlaid } from "./overlay";
import { useUniforms } from "./uniforms";

type Beam = BeamsState["beams"][number];

/** How many lamps light the view at once, the strongest first, and how many of these cast shadows: each needs a picture of its own,
 *  and materials have room for few. */
const LIT = drawnByProcessor ? 4 : 24;
const CASTING = drawnByProcessor ? 0 : 2;
/** Radius of a bulb, metres; what is nearer to it than a lantern's panes casts no shadow. */
const BULB = 0.06;
const PANES = 0.3;
/** As bright as anything is shown. */
const GLARE = 60;
const RADIANS = Math.PI / 180;

interface Props {
  lamps: PlacedLamp[];
  beams: Beam[];
  /** Which of them are lit. */
  lit: boolean[];
  /** By how much all is made brighter to be shown. */
  scale: number;
}

/** Lamps: their light, what of them shines, and marks while one of them is picked. */
export function Lamps({ lamps, beams, lit, scale }: Props) {
  const { gl, invalidate } = useThree();
  const marked = useView((state) => state.picked?.part === "lamps");
  const strongest = useMemo(
    () =>
      [...lamps.keys()]
        .filter((row) => lit[row])
        .sort((a, b) => brightest(beams[b].intensity) - brightest(beams[a].intensity))
        .slice(0, LIT),
    [lamps, beams, lit],
  );
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [gl, lamps, beams, lit, scale, marked, invalidate]);
  return (
    <>
      {lamps.map(
        (lamp, row) =>
          lamp.shown && (
            <OneLamp
              key={lamp.id}
              lamp={lamp}
              beam={beams[row]}
              light={strongest.includes(row)}
              shines={lit[row]}
              casts={strongest.indexOf(row) >= 0 && strongest.indexOf(row) < CASTING}
              scale={scale}
              marked={marked}
            />
          ),
      )}
    </>
  );
}

interface OneProps {
  lamp: PlacedLamp;
  beam: Beam;
  light: boolean;
  shines: boolean;
  casts: boolean;
  scale: number;
  marked: boolean;
}

/** The light of a beam, in its lamp's frame. */
export function lightOf(beam: Beam, scale: number): THREE.PointLight | THREE.SpotLight {
  const most = brightest(beam.intensity);
  const colour = new THREE.Color().setRGB(
    ...(beam.intensity.map((one) => one / (most || 1)) as [number, number, number]),
    THREE.LinearSRGBColorSpace,
  );
  if (beam.outer > 90) return new THREE.PointLight(colour, most * scale);
  const outer = Math.min(beam.outer, 88) * RADIANS;
  const light = new THREE.SpotLight(colour, most * scale, 0, outer, 1 - beam.inner / beam.outer);
  light.target.position.set(0, -1, 0);
  light.add(light.target);
  light.position.set(0, 0, 0);
  return light;
}

function cast(light: THREE.PointLight | THREE.SpotLight) {
  light.castShadow = true;
  light.shadow.mapSize.setScalar(1024);
  light.shadow.normalBias = 0.03;
  const camera = light.shadow.camera as THREE.PerspectiveCamera;
  camera.near = PANES;
  camera.far = 60;
  light.shadow.radius = 4;
}

/** What of a lamp shines to the eye: a bulb, or a surface or tube as large as it is. */
function bodyOf(beam: Beam): THREE.BufferGeometry {
  if (beam.wide > 0) return new THREE.PlaneGeometry(beam.wide, beam.long).rotateX(Math.PI / 2);
  if (beam.long > 0) return new THREE.CylinderGeometry(0.019, 0.019, beam.long, 10).rotateZ(Math.PI / 2);
  return new THREE.SphereGeometry(BULB, 16, 12);
}

/** Square metres of it that are seen from where it shines strongest. */
const facing = (beam: Beam) =>
  beam.wide > 0 ? beam.wide * beam.long : beam.long > 0 ? 0.038 * beam.long : Math.PI * BULB * BULB;

/** A plumb line along the beam's axis, and the edge of its cone. */
function markOf(beam: Beam): THREE.LineSegments {
  const points = [new THREE.Vector3(), new THREE.Vector3(0, -0.7, 0)];
  const half = Math.min(beam.outer, 89) * RADIANS;
  const [reach, radius] = beam.outer > 90 ? [0, 0.22] : [0.7 * Math.cos(half), 0.7 * Math.sin(half)];
  const rim = (k: number) => {
    const angle = (k / 24) * 2 * Math.PI;
    return new THREE.Vector3(Math.cos(angle) * radius, -reach, Math.sin(angle) * radius);
  };
  for (let k = 0; k < 24; k++) points.push(rim(k), rim(k + 0.6));
  if (beam.outer <= 90) for (const k of [0, 6, 12, 18]) points.push(new THREE.Vector3(), rim(k));
  const lines = new THREE.LineSegments(
    new THREE.BufferGeometry().setFromPoints(points),
    new THREE.LineBasicMaterial({ color: partColours.lamps, toneMapped: false, depthTest: false, transparent: true }),
  );
  lines.renderOrder = 19;
  lines.raycast = () => undefined;
  return overlaid(lines);
}

function OneLamp({ lamp, beam, light, shines, casts, scale, marked }: OneProps) {
  const matrix = useMemo(() => poseOf(lamp.placement), [lamp.placement]);
  const source = useMemo(() => {
    if (!light) return null;
    const made = lightOf(beam, scale);
    made.position.y += beam.heart;
    if (casts) cast(made);
    return made;
  }, [light, beam, scale, casts]);
  useEffect(() => () => source?.dispose(), [source]);
  const body = useMemo(() => bodyOf(beam), [beam]);
  useEffect(() => () => body.dispose(), [body]);
  const colour = useMemo(() => {
    const sent = beam.intensity.map((one) => (one * scale) / facing(beam));
    const most = brightest(sent);
    const shown = shines ? sent.map((one) => (one * Math.min(most, GLARE)) / (most || 1)) : [0.3, 0.3, 0.28];
    return new THREE.Color().setRGB(...(shown as [number, number, number]), THREE.LinearSRGBColorSpace);
  }, [beam, scale, shines]);
  const uniforms = useUniforms();
  const flame = useMemo(
    () => (beam.flame && shines && lamp.seen_itself ? flameMesh(beam.flame, scale, uniforms) : null),
    [beam, shines, lamp.seen_itself, scale, uniforms],
  );
  useEffect(() => {
    if (!flame) return undefined;
    const { drifting } = uniforms.water;
    drifting.add(flame);
    return () => {
      drifting.delete(flame);
      flame.geometry.dispose();
      (flame.material as THREE.Material).dispose();
    };
  }, [flame, uniforms]);
  // While all stands still so does the light, which stills have on its mean.
  const moves = useView((state) => state.windMoves);
  useFrame(() => {
    if (!source || !beam.flame) return;
    source.intensity = brightest(beam.intensity) * scale * (moves ? flicker(uniforms.wind.windTime.value) : 1);
  });
  const mark = useMemo(() => (marked ? markOf(beam) : null), [marked, beam]);
  useEffect(
    () => () => {
      mark?.geometry.dispose();
      (mark?.material as THREE.Material | undefined)?.dispose();
    },
    [mark],
  );
  const press = (event: ThreeEvent<MouseEvent>) => {
    if (event.delta > 4 || lamp.locked || handBusy(useView.getState())) return;
    event.stopPropagation();
    useView.getState().pick({ part: "lamps", id: lamp.id }, event.nativeEvent.shiftKey);
  };
  return (
    <group name={lamp.id} matrix={matrix} matrixAutoUpdate={false}>
      {flame && <primitive object={flame} />}
      {((lamp.seen_itself && !beam.flame) || marked) && (
        <mesh geometry={body} onClick={press}>
          <meshBasicMaterial color={colour} side={THREE.DoubleSide} />
        </mesh>
      )}
      {source && <primitive object={source} />}
      {mark && <primitive object={mark} />}
    </group>
  );
}
