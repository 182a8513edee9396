import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { Canvas } from "@react-three/fiber";
import { memo, useEffect, useMemo } from "react";
import * as THREE from "three";
import { useShallow } from "zustand/react/shallow";
import type { SceneManifest, SiteDocument } from "../api/client";
import { useScene, useSite } from "../api/queries";
import { Climate } from "../climate/Climate";
import { Falling } from "../drop/Falling";
import { Handles } from "../place/Handles";
import { SnapChoice } from "../place/SnapChoice";
import { Trace } from "../place/Trace";
import { TraceBar } from "../place/TraceBar";
import { Planter } from "../planting/Planter";
import { SurfaceBrush } from "../planting/SurfaceBrush";
import { useDocument, useSiteContext } from "../site/context";
import { holding, probingIn } from "../site/inHand";
import { handBusy, type Showing, useView } from "../site/store";
import { colours } from "../theme/theme";
import { Probe } from "../why/Probe";
import { WhyCard } from "../why/WhyCard";
import { Blankets } from "../view/Blankets";
import { Brush } from "../view/Brush";
import { FrameGuide } from "../view/FrameGuide";
import { Halo } from "../view/Halo";
import { AFFECTS } from "../parts/registry";
import { Previewer, usePreview, wantedFor } from "../view/preview";
import { drawnByProcessor } from "../site/machine";
import { type FinishStep, NO_STEPS, stepsOf } from "../stills/finishes";
import { FinishTones } from "../stills/FinishTones";
import { StillShown } from "../stills/StillShown";
import { CameraRig, Drawing } from "../view/Rig";
import { useShotLens } from "../view/useShotLens";
import { Parting, PartingBar, togglePart } from "../view/PartingBar";
import { Scatters } from "../planting/Scatters";
import { Sky } from "../view/Sky";
import { WaterPlane } from "../view/water/WaterPlane";
import { Surfaces } from "../view/Surfaces";
import { shown } from "../api/declared";
import { Patches } from "../view/patches/Patches";
import { Shafts } from "../view/Shafts";
import { ShotPyramid } from "../view/ShotPyramid";
import { Obstacles } from "../view/Obstacles";
import { Surroundings } from "../view/Surroundings";
import { DecalBox } from "../decals/DecalBox";
import { Lay } from "../decals/Lay";
import { Unspread } from "../decals/Unspread";
import { Grasses } from "../grass/Grasses";
import { Droplets } from "../droplets/Droplets";
import { LostFiles } from "./LostFiles";
import { Zones } from "../view/Zones";

const SHOWINGS: { showing: Showing; label: string; help: string }[] = [
  { showing: "lit", label: "Lit", help: "Sun, sky and shadows" },
  { showing: "flat", label: "Flat", help: "Colours alone, without light: compare neighbours" },
  { showing: "mask", label: "Mask", help: "The picked layer's mask in black and white. Hold Space to peek" },
  { showing: "still", label: "Still", help: "The newest still of the shot, as it is finished" },
];
/** How finely what is seen from near is drawn once the view is at rest: a texel a pixel, but no smaller than that. */
const FINEST = [
  { finest: 0.001, label: "Near: down to 1 mm" },
  { finest: 0.005, label: "Near: down to 5 mm" },
  { finest: 0, label: "Near: as all the rest" },
];

/** The site in three dimensions, with the few controls that belong to looking. */
export function View() {
  const { siteId, editor, stage } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  const document = useDocument();
  const { showing, peeking, finest, draft, shotId, picked, sharpness, finishSeen } = useView(
    useShallow(({ showing, peeking, finest, draft, shotId, picked, sharpness, finishSeen }) => ({
      finest,
      showing,
      peeking,
      draft,
      shotId,
      picked,
      sharpness,
      finishSeen,
    })),
  );
  const { set, goTo, pick } = useView.getState();
  const scene = useScene(siteId, revision, draft !== null);
  const problem = usePreview((state) => state.problem);
  const lens = useShotLens(document.shots);

  const previewer = useMemo(() => new Previewer(siteId), [siteId]);
  const maskLayer =
    (showing === "mask" || peeking) && (picked?.part === "weather" || picked?.part === "planting") ? picked : null;
  useEffect(() => {
    if (!scene.data) return;
    if (!draft && !maskLayer) {
      // What was previewed stays until the saved maps have come, so that nothing flickers back.
      if (!scene.isFetching && !scene.isPlaceholderData) previewer.clear();
      return;
    }
    const wanted = wantedFor(document, scene.data, draft?.operations ?? [], maskLayer, AFFECTS);
    // What a draft looks like does not change by being saved.
    if (wanted) previewer.ask(wanted, draft ? 0 : revision);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the document follows from draft and revision
  }, [draft, maskLayer, scene.data, scene.isFetching, scene.isPlaceholderData, previewer, revision]);
  useEffect(() => {
    if (!maskLayer) usePreview.setState({ masks: null });
  }, [maskLayer]);
  useEffect(() => () => previewer.clear(), [previewer]);

  const saveShot = () => {
    const number = document.shots.length + 1;
    const id = `shot-${Date.now().toString(36)}`;
    editor.commit(`Save shot ${number}`, [
      { op: "add", path: "/shots/-", value: { id, name: `Shot ${number}`, ...stage.shot() } },
    ]);
    set({ shotId: id });
  };

  const texels = scene.data?.surfaces.reduce((sum, surface) => sum + surface.texels, 0) ?? 0;
  const measuring = scene.data?.measuring;
  return (
    <Box
      component="section"
      aria-label="View"
      data-region
      tabIndex={-1}
      sx={{ position: "relative", background: colours.surround, minWidth: 0, minHeight: 0, overflow: "hidden" }}
    >
      <Canvas
        frameloop="demand"
        dpr={sharpness}
        gl={{
          antialias: !drawnByProcessor,
          toneMapping: THREE.NeutralToneMapping,
          toneMappingExposure: 0.92,
          preserveDrawingBuffer: true,
          // So that what is half a kilometre away does not flicker through what lies on it; where the machine can.
          reversedDepthBuffer: true,
        }}
        camera={{ fov: 42, near: 0.08, far: 6000, position: [12, 7, 14] }}
        onPointerMissed={(event) => event.type === "click" && !handBusy(useView.getState()) && pick(null)}
        role="application"
        tabIndex={0}
        aria-label="The site in three dimensions"
      >
        <Drawing
          surfaces={scene.data?.surfaces.length ?? 0}
          layers={scene.data?.scatters.filter((layer) => layer.placements).length ?? 0}
        />
        <CameraRig shots={document.shots} />
        <Parting />
        {scene.data && (
          <Contents
            scene={scene.data}
            light={document.light}
            air={document.air}
            lamps={document.lamps}
            finish={
              finishSeen && showing === "lit" && !peeking
                ? stepsOf(document, shotId ?? document.shots[0]?.id ?? "")
                : NO_STEPS
            }
            water={document.water.shown && showing !== "mask" && !peeking ? document.water : null}
            texel={scene.data.texel}
          />
        )}
      </Canvas>
      <FrameGuide {...lens} />
      {showing === "still" && <StillShown />}
      <PartingBar />
      {/* Beside the dials: what does not fit goes below. */}
      <Box
        sx={{
          position: "absolute",
          left: 10,
          right: 295,
          top: 10,
          display: "flex",
          flexWrap: "wrap",
          gap: 1,
          pointerEvents: "none",
          "& > *": { pointerEvents: "auto" },
        }}
      >
        <Select
          value={document.shots.some((shot) => shot.id === shotId) ? shotId : (document.shots[0]?.id ?? "")}
          displayEmpty
          onChange={(event) => event.target.value && goTo(event.target.value)}
          inputProps={{ "aria-label": "Shot" }}
          sx={controlStyle}
        >
          {document.shots.length === 0 && <MenuItem value="">No shots yet</MenuItem>}
          {document.shots.map((shot) => (
            <MenuItem key={shot.id} value={shot.id} dense onClick={() => goTo(shot.id)}>
              {shot.name}
            </MenuItem>
          ))}
        </Select>
        <Tooltip title="Keep this view of the site as a shot">
          <Button variant="contained" color="inherit" onClick={saveShot} sx={{ ...controlStyle, height: 32 }}>
            Keep view
          </Button>
        </Tooltip>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={showing}
          onChange={(_, next: Showing | null) => next && set({ showing: next })}
          aria-label="How to look"
          sx={controlStyle}
        >
          {SHOWINGS.map((one) => (
            <ToggleButton
              key={one.showing}
              value={one.showing}
              sx={{ textTransform: "none", px: 1.25, py: 0.25, "&.Mui-selected": { background: colours.waterPale } }}
            >
              <Tooltip title={one.help}>
                <span>{one.label}</span>
              </Tooltip>
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <Tooltip
          title={`Texels of what is near, once the view rests. All the rest: ${(texels / 1e6).toFixed(1)} million, of ${shown((scene.data?.texel ?? 0) * 100, 0.1)} cm`}
        >
          <Select
            value={finest}
            onChange={({ target: { value } }) => set({ finest: Number(value) })}
            inputProps={{ "aria-label": "Finest texel" }}
            sx={controlStyle}
          >
            {FINEST.map((one) => (
              <MenuItem key={one.label} value={one.finest} dense>
                {one.label}
              </MenuItem>
            ))}
          </Select>
        </Tooltip>
        <SnapChoice sx={controlStyle} />
        <ProbeButton />
        <PartButton />
        <FrameButton />
        <WalkButton />
      </Box>
      <TraceBar />
      <WhyCard />
      <Box sx={{ position: "absolute", right: 10, top: 10 }}>
        <Climate />
      </Box>
      <Box
        role="status"
        sx={{ position: "absolute", left: 10, bottom: 8, display: "grid", gap: 0.5, justifyItems: "start" }}
      >
        {showing === "mask" && !maskLayer && <Remark text="Pick a layer under Planting or Weather to see its mask." />}
        {measuring && <Remark text="Measuring the geometry. Surfaces without maps yet are grey." />}
        {scene.isError && <Remark text={scene.error.message} />}
        {problem && <Remark text={problem} />}
        <Economy />
      </Box>
      <LostFiles lost={scene.data?.lost ?? []} />
    </Box>
  );
}

/** Takes the probe in hand, or puts it down. */
function ProbeButton() {
  const probing = useView(probingIn);
  return (
    <Tooltip title="Ask of any point why something is there, or is not. Holding ? does the same">
      <ToggleButton
        value="probe"
        size="small"
        selected={probing}
        onChange={() => useView.getState().take(probing ? null : { what: "probe", instead: null })}
        sx={toggleStyle}
      >
        Why here
      </ToggleButton>
    </Tooltip>
  );
}

/** Parts the view in before and after. */
function PartButton() {
  const parted = useView((state) => state.parted !== null);
  return (
    <Tooltip title="Left without weather, right as it is; drag the line between. X shows all of before">
      <ToggleButton value="parted" size="small" selected={parted} onChange={togglePart} sx={toggleStyle}>
        Before/after
      </ToggleButton>
    </Tooltip>
  );
}

/** Marks what the shot's picture takes in. */
function FrameButton() {
  const framing = useView((state) => state.framing);
  return (
    <Tooltip title="Mark what the picture takes in, its thirds, and what no screen cuts off">
      <ToggleButton
        value="frame"
        size="small"
        selected={framing}
        onChange={() => useView.getState().set({ framing: !framing })}
        sx={toggleStyle}
      >
        Frame
      </ToggleButton>
    </Tooltip>
  );
}

/** Walks about, or stops walking. */
function WalkButton() {
  const walking = useView((state) => holding(state, "walk") !== null);
  return (
    <Tooltip title="Walk about at the height of an eye: arrows or W, A, S, D; Shift hurries, Page up rises, a drag looks around">
      <ToggleButton
        value="walk"
        size="small"
        selected={walking}
        onChange={() => useView.getState().take(walking ? null : { what: "walk" })}
        sx={toggleStyle}
      >
        Walk
      </ToggleButton>
    </Tooltip>
  );
}

/** What is left out of the picture for the machine's sake; on its own, so that saying so draws nothing anew. */
function Economy() {
  const economy = useView((state) => state.economy);
  return economy ? <Remark text={economy} /> : null;
}

interface ContentsProps {
  scene: SceneManifest;
  light: SiteDocument["light"];
  air: SiteDocument["air"];
  lamps: SiteDocument["lamps"];
  finish: FinishStep[];
  water: SiteDocument["water"] | null;
  texel: number;
}

/** The extent of the land around a site, where it goes on, or of the site itself. */
function reachOf({ low, high, surroundings }: SceneManifest): { low: number[]; high: number[] } {
  const by = surroundings?.beyond ?? 0;
  return { low: low.map((v) => v - by), high: high.map((v) => v + by) };
}

/** Where the foam on one of a scene's waters is asked for. */
function foamOf({ water }: SceneManifest, siteId: string, row: number): string | null {
  const key = water[row]?.foam;
  return key ? `/api/sites/${siteId}/foam/${row}?key=${key}` : null;
}

/** What there is to see. A change that touches none of it leaves it alone. */
const Contents = memo(function Contents({ scene, light, air, lamps, finish, water, texel }: ContentsProps) {
  // Kept, since water is made anew for another extent.
  const reach = useMemo(() => reachOf(scene), [scene]);
  const { siteId } = useSiteContext();
  return (
    <>
      <Sky light={light} air={air} lamps={lamps} shelter={scene.shelter} low={scene.low} high={scene.high} />
      <FinishTones steps={finish} />
      <Shafts sunlit={scene.sunlit} />
      {/* Asked for before the maps, which may take longer. */}
      <Blankets scene={scene} />
      <Surfaces scene={scene} texel={texel} />
      <Obstacles entries={scene.obstacles} />
      <Patches scene={scene} />
      {scene.surroundings && <Surroundings entry={scene.surroundings} />}
      <Grasses scene={scene} />
      <Scatters scene={scene} />
      {/* Where the land goes on, so does the water that stands over the site. */}
      {water && <WaterPlane water={water} {...reach} foam={foamOf(scene, siteId, 0)} foams={water.foam / 100} />}
      {scene.water.map(
        (one, row) =>
          one.outline.length > 0 && (
            <WaterPlane
              key={row}
              water={one}
              low={scene.low}
              high={scene.high}
              outline={one.outline}
              foam={foamOf(scene, siteId, row)}
              foams={one.foams}
            />
          ),
      )}
      <Droplets entries={scene.droplets} />
      <Brush />
      <Falling />
      <Trace />
      <SurfaceBrush />
      <Planter />
      <Probe />
      <Zones />
      <ShotPyramid />
      <Handles />
      <Lay />
      <DecalBox />
      <Unspread />
      <Halo stamp={scene} />
    </>
  );
});

const toggleStyle = {
  background: `${colours.pale}f2`,
  height: 32,
  fontSize: 13,
  textTransform: "none",
  px: 1.25,
  "&:hover": { background: colours.pale },
  "&.Mui-selected, &.Mui-selected:hover": { background: colours.waterPale },
} as const;
const controlStyle = { background: `${colours.pale}f2`, height: 32, fontSize: 13 };

function Remark({ text }: { text: string }) {
  return (
    <Typography
      variant="caption"
      sx={{ background: `${colours.pale}e6`, px: 1, py: 0.25, borderRadius: 0.5, maxWidth: 560 }}
    >
      {text}
    </Typography>
  );
}
