import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMemo } from "react";
import * as THREE from "three";
import type { Operation, PlacedDecal, Vocabulary } from "../api/client";
import { declaredGroup, declaredKind, defaultsOf } from "../api/declared";
import { uploadDecalPicture } from "../api/queries";
import { boxMatrix, filling, frameOf, type Lie, lieOf, sized } from "../site/decalBox";
import { DeclaredForm } from "../forms/DeclaredForm";
import { NameField } from "../forms/NameField";
import { useChange, useDocument, useSiteContext } from "../site/context";
import { holding } from "../site/inHand";
import { freshId, freshName } from "../site/layers";
import type { Point } from "../site/poses";
import { useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { BroughtFile } from "./BroughtFile";
import { type LayerProps, Section } from "./parts";
import { useReport } from "./where";
import { WhereSection } from "./WhereSection";

const BOX = ["placement", "object", "spin", "width", "height", "reach", "only_object", "mirrored"];
const ELSEWHERE = ["id", "name", "shown", "locked", "decal", "where", ...BOX];
const EXTENT = ["width", "height", "reach", "spin", "mirrored", "only_object"];

/** A decal: what it shows – where its box is – how it is laid – where it shows. */
export function DecalBench({ layer: decal, path, vocabulary }: LayerProps<PlacedDecal>) {
  const change = useChange();
  const declared = declaredGroup("PlacedDecal");
  const box = useMemo(() => Object.fromEntries(EXTENT.map((name) => [name, declared[name]])), [declared]);
  const value = decal as unknown as Record<string, unknown>;
  const report = useReport(decal.id);
  return (
    <>
      <Section title={<NameField name={decal.name} path={path} />} tone={partColours.decals}>
        <Box sx={{ width: 220 }}>
          <TextField
            select
            label="Shows"
            value={decal.decal.kind}
            onChange={(event) =>
              change.now(`${decal.name}: what it shows`, [
                { op: "replace", path: `${path}/decal`, value: defaultsOf(event.target.value) },
              ])
            }
            sx={{ mt: 0.75, minWidth: 160 }}
          >
            {vocabulary.decals.map(({ kind, title }) => (
              <MenuItem key={kind} value={kind} dense>
                {title}
              </MenuItem>
            ))}
          </TextField>
          <DeclaredForm
            subject={decal.name}
            path={`${path}/decal`}
            declared={declaredKind(decal.decal.kind)}
            value={decal.decal as unknown as Record<string, unknown>}
          />
          {decal.decal.kind === "own_picture" && <Picture decal={decal} path={path} />}
        </Box>
      </Section>
      <Section title="in a box" tone={colours.water}>
        <Box sx={{ width: 250 }}>
          <Follows decal={decal} path={path} />
          <DeclaredForm subject={decal.name} path={path} declared={box} value={value} columns={2} />
          <DeclaredForm
            subject={decal.name}
            path={`${path}/placement`}
            declared={declaredGroup("Pose")}
            value={decal.placement as unknown as Record<string, unknown>}
            columns={2}
          />
          <BoxActions decal={decal} path={path} />
        </Box>
      </Section>
      <Section title="once, or by rule" tone={partColours.decals}>
        <Box sx={{ width: 250 }}>
          <ByRule decal={decal} path={path} vocabulary={vocabulary} />
        </Box>
      </Section>
      <Section title="laid on" tone={partColours.decals}>
        <Box sx={{ width: 330 }}>
          <DeclaredForm
            subject={decal.name}
            path={path}
            declared={declared}
            value={value}
            without={ELSEWHERE}
            columns={2}
          />
        </Box>
      </Section>
      <WhereSection
        where={decal.where}
        path={`${path}/where`}
        subject={decal.name}
        report={report.data}
        vocabulary={vocabulary}
      />
    </>
  );
}

/** How a decal is spread over surfaces by rule; or a press that has it so. */
function ByRule({ decal, path, vocabulary }: { decal: PlacedDecal; path: string; vocabulary: Vocabulary }) {
  const change = useChange();
  const { structures } = useDocument();
  const held = useView((state) => holding(state, "unspread"));
  const own = decal.object || "ground";
  const usual = vocabulary.decals.find(({ kind }) => kind === decal.decal.kind)!;
  const free = !decal.where.cards.length && !decal.where.shared;
  // Where such things are found, unless somebody has said where.
  const begin = () =>
    change.now(`${decal.name}: by rule`, [
      { op: "replace", path: `${path}/spread/surfaces`, value: [own] },
      { op: "replace", path: `${path}/spread/hangs`, value: usual.hangs },
      { op: "replace", path: `${path}/spread/on`, value: true },
      ...(free ? [{ op: "replace" as const, path: `${path}/where`, value: usual.where }] : []),
    ]);
  if (!decal.spread.on)
    return (
      <>
        <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
          It is laid once, in its box.
        </Typography>
        <Button onClick={begin}>
          Spread it by rule over {structures.find(({ id }) => id === own)?.name ?? "the ground"}
        </Button>
      </>
    );
  const gone = decal.spread.removed.length;
  const take = (keep: boolean) =>
    useView.getState().take(held?.keep === keep ? null : { what: "unspread", decal: decal.id, keep });
  return (
    <>
      <DeclaredForm
        subject={decal.name}
        path={`${path}/spread`}
        declared={declaredGroup("Spread")}
        value={decal.spread as unknown as Record<string, unknown>}
        columns={2}
      />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5 }}>
        <Button aria-pressed={held?.keep === true} onClick={() => take(true)}>
          Make one its own: press it
        </Button>
        <Button aria-pressed={held?.keep === false} onClick={() => take(false)}>
          Take one out: press it
        </Button>
        {gone > 0 && (
          <Button
            onClick={() =>
              change.now(`${decal.name}: all back`, [{ op: "replace", path: `${path}/spread/removed`, value: [] }])
            }
          >
            Bring back {gone}
          </Button>
        )}
      </Box>
    </>
  );
}

/** The picture file that a decal shows; its box takes the picture's proportions. */
function Picture({ decal, path }: { decal: PlacedDecal; path: string }) {
  const { siteId } = useSiteContext();
  const change = useChange();
  if (decal.decal.kind !== "own_picture") return null;
  const own = decal.decal;
  const put = (label: string, value: object, more: Operation[] = []) =>
    change.now(label, [{ op: "replace", path: `${path}/decal`, value }, ...more]);
  return (
    <BroughtFile
      called="Picture"
      accept=".png,.jpg,.jpeg,.tif,.tiff,.webp,.exr"
      upload={(file) => uploadDecalPicture(siteId, file)}
      onRead={({ source, file_name, columns, rows, remarks }) => {
        // As large an area as before, in the proportions of the picture.
        const side = Math.sqrt(decal.width * decal.height);
        const wide = Math.sqrt(columns / rows);
        put(`${decal.name}: ${file_name}`, { ...own, source, file_name }, [
          { op: "replace", path: `${path}/width`, value: sized(side * wide) },
          { op: "replace", path: `${path}/height`, value: sized(side / wide) },
        ]);
        return [`${columns} × ${rows} pixels.`, ...remarks];
      }}
      inUse={own.source ? own.file_name : null}
      onDelete={() => put(`${decal.name}: no picture`, { ...own, source: "", file_name: "" })}
    />
  );
}

/** The object that a decal follows. It stays where it is when another is chosen. */
function Follows({ decal, path }: { decal: PlacedDecal; path: string }) {
  const { structures } = useDocument();
  const change = useChange();
  const gone = decal.object !== "" && !structures.some(({ id }) => id === decal.object);
  const follow = (object: string) => {
    const [before, after] = [frameOf(structures, decal.object), frameOf(structures, object)];
    const by = (before?.size ?? 1) / (after?.size ?? 1);
    const lie: Lie = {
      ...lieOf(boxMatrix(decal, before), after),
      width: decal.width * by,
      height: decal.height * by,
      reach: decal.reach * by,
    };
    change.now(
      `${decal.name}: follows another`,
      Object.entries({ object, ...lie }).map(([name, value]) => ({ op: "replace", path: `${path}/${name}`, value })),
    );
  };
  return (
    <TextField
      select
      label="Follows"
      value={decal.object}
      error={gone}
      helperText={
        gone
          ? "Its object is gone: it is kept, and laid on nothing until that is back or it follows another."
          : undefined
      }
      onChange={(event) => follow(event.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      sx={{ mt: 0.75, minWidth: 160 }}
    >
      <MenuItem value="" dense>
        Nothing: it stays where it is
      </MenuItem>
      {structures.map(({ id, name }) => (
        <MenuItem key={id} value={id} dense>
          {name}
        </MenuItem>
      ))}
      {gone && (
        <MenuItem value={decal.object} dense>
          Gone
        </MenuItem>
      )}
    </TextField>
  );
}

/** What is done with a decal's box by a press. */
function BoxActions({ decal, path }: { decal: PlacedDecal; path: string }) {
  const { editor, stage } = useSiteContext();
  const { structures, decals } = useDocument();
  const change = useChange();
  const frame = frameOf(structures, decal.object);
  const fill = () => {
    const mesh = stage.scene?.getObjectByName(decal.object || "ground") as THREE.Mesh | undefined;
    if (!mesh?.geometry) return;
    mesh.geometry.computeBoundingBox();
    const { min, max } = mesh.geometry.boundingBox!;
    const lie = filling(decal, frame, min.toArray() as Point, max.toArray() as Point, mesh.matrixWorld);
    change.now(
      `${decal.name}: as large as its surface`,
      Object.entries(lie).map(([name, value]) => ({ op: "replace", path: `${path}/${name}`, value })),
    );
  };
  const duplicate = (mirrored: boolean) => {
    const name = freshName(decal.name.replace(/ \d+$/, ""), decals.map((one) => one.name)); // prettier-ignore
    const matrix = boxMatrix(decal, frame);
    const aside = new THREE.Vector3(decal.width * 1.1 * (frame?.size ?? 1), 0, 0).applyMatrix4(matrix);
    const value = {
      ...structuredClone(decal),
      ...lieOf(matrix.clone().setPosition(aside), frame),
      id: freshId("decal"),
      name,
      mirrored: decal.mirrored !== mirrored,
    };
    editor.commit(`Copy ${decal.name}`, [{ op: "add", path: "/decals/-", value }]);
    useView.getState().pick({ part: "decals", id: value.id });
  };
  const row = decals.findIndex((one) => one.id === decal.id);
  const reorder = (by: number) => {
    const moved = { ...decal };
    editor.commit(`${decal.name}: ${by > 0 ? "above the next" : "below the one before"}`, [
      { op: "remove", path },
      { op: "add", path: `/decals/${row + by}`, value: moved },
    ]);
  };
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5 }}>
        <Button onClick={fill}>As large as this surface</Button>
        <Button onClick={() => duplicate(false)}>Copy beside</Button>
        <Button onClick={() => duplicate(true)}>Mirrored copy</Button>
        <Button disabled={row === 0} onClick={() => reorder(-1)}>
          Below the one before
        </Button>
        <Button disabled={row === decals.length - 1} onClick={() => reorder(1)}>
          Above the next
        </Button>
      </Box>
      <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0, mt: 0.5 }}>
        In the view: the middle slides it over surfaces, corners size it, the mark above it spins it, the one before it
        sets its reach.
      </Typography>
    </>
  );
}
