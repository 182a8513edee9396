import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { declaredGroup, declaredKind } from "../api/declared";
import type { PlacedLamp } from "../api/client";
import { uploadPhotometry, useVocabulary } from "../api/queries";
import { DeclaredForm } from "../forms/DeclaredForm";
import { NameField } from "../forms/NameField";
import { AlikeContext, useChange, useDocument, useSiteContext } from "../site/context";
import { pickedOf, useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { BroughtFile } from "./BroughtFile";
import { Section } from "./parts";

const picked = pickedOf("lamps");
const LEFT_OUT = ["id", "name", "shown", "locked", "lamp", "placement"];
const OF_THE_FILE = ["source", "file_name"];

/** A lamp: what it is – how it shines – where it hangs. Of several, all are set alike. */
export function LampBench({ index }: { index: number }) {
  const document = useDocument();
  const ids = useView(useShallow(picked));
  const lamp = document.lamps[index];
  const path = `/lamps/${index}`;
  const together = document.lamps.filter((one) => ids.includes(one.id));
  const others = document.lamps
    .map((one, row) => ({ one, path: `/lamps/${row}` }))
    .filter(({ one, path: at }) => ids.includes(one.id) && at !== path);
  // What the lamps have in common is set alike; what only one kind has, on those of its kind.
  const same = others.filter(({ one }) => one.lamp.kind === lamp.lamp.kind).map(({ path: at }) => at);
  const all = others.map(({ path: at }) => at);
  const [alike, alikeLamps] = [
    useAlike(path, all),
    useAlike(
      `${path}/lamp`,
      same.map((at) => `${at}/lamp`),
    ),
  ];
  const value = lamp as unknown as Record<string, unknown>;
  const aim = () =>
    useView.getState().take({
      what: "trace",
      draws: "place",
      path,
      name: "placement",
      sets: {},
      label: `Aim ${lamp.name}`,
      frame: null,
      points: [],
      aims: lamp.placement,
    });
  return (
    <>
      <Section
        title={together.length > 1 ? `${together.length} lamps` : <NameField name={lamp.name} path={path} />}
        tone={partColours.lamps}
      >
        <Box sx={{ width: 220 }}>
          {together.length > 1 && (
            <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
              {together.map((one) => one.name).join(", ")}. What is set here is set on all of them.
            </Typography>
          )}
          <AlikeContext.Provider value={alike}>
            <DeclaredForm
              subject={lamp.name}
              path={path}
              declared={declaredGroup("PlacedLamp")}
              value={value}
              without={LEFT_OUT}
            />
          </AlikeContext.Provider>
          <AllOfThisKind lamp={lamp} />
        </Box>
      </Section>
      <Section title="shines with" tone={colours.water} wide>
        <AlikeContext.Provider value={alikeLamps}>
          <DeclaredForm
            subject={lamp.name}
            path={`${path}/lamp`}
            declared={declaredKind(lamp.lamp.kind)}
            value={lamp.lamp as unknown as Record<string, unknown>}
            without={OF_THE_FILE}
            columns={2}
          />
        </AlikeContext.Provider>
      </Section>
      {together.length < 2 && (
        <Section title="hangs at" tone={colours.water}>
          <Box sx={{ width: 230 }}>
            <DeclaredForm
              subject={lamp.name}
              path={`${path}/placement`}
              declared={declaredGroup("Pose")}
              value={lamp.placement as unknown as Record<string, unknown>}
            />
            <Button onClick={aim}>Aim in the view</Button>
          </Box>
        </Section>
      )}
      <Section title="in the shape of" tone={colours.water}>
        <Box sx={{ width: 220 }}>
          <Photometry lamp={lamp} paths={[path, ...all]} />
        </Box>
      </Section>
    </>
  );
}

/** Where what is set at a path is set alike; the same object as long as it is the same. */
function useAlike(at: string, others: string[]) {
  const key = others.join(" ");
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the key tells the others
  return useMemo(() => (others.length ? { at, others } : null), [at, key]);
}

/** Picks all lamps that are of one kind. */
function AllOfThisKind({ lamp }: { lamp: PlacedLamp }) {
  const { lamps } = useDocument();
  const title = useVocabulary()
    .data?.lamps.find(({ kind }) => kind === lamp.lamp.kind)
    ?.title.toLowerCase();
  const alike = lamps.filter((one) => one.lamp.kind === lamp.lamp.kind && one.id !== lamp.id).map(({ id }) => id);
  return (
    <Button
      disabled={!alike.length}
      onClick={() => useView.setState({ picked: { part: "lamps", id: lamp.id }, alsoPicked: alike })}
    >
      {alike.length ? `Pick all ${alike.length + 1} of this kind` : `No other ${title ?? "lamp"} is here`}
    </Button>
  );
}

/** The photometric file that lamps take the shape of their light from. */
function Photometry({ lamp, paths }: { lamp: PlacedLamp; paths: string[] }) {
  const { siteId } = useSiteContext();
  const change = useChange();
  const own = lamp.lamp;
  const common = { measure: own.measure, watts: own.watts, efficacy: own.efficacy, kelvin: own.kelvin, tint: own.tint };
  const put = (label: string, value: object) =>
    change.now(
      label,
      paths.map((path) => ({ op: "replace" as const, path: `${path}/lamp`, value })),
    );
  return (
    <>
      <BroughtFile
        called="Photometry"
        accept=".ies"
        upload={(file) => uploadPhotometry(siteId, file)}
        onRead={({ source, file_name, lumens, remarks }) => {
          // It shines as it was measured, until somebody wants it brighter or darker.
          const value = { ...common, kind: "measured_lamp", measure: "lumens", source, file_name, lumens };
          put(`${lamp.name}: ${file_name}`, value);
          return [`${lumens.toLocaleString("en-GB")} lm.`, ...remarks];
        }}
        inUse={own.kind === "measured_lamp" ? own.file_name : null}
        onDelete={() => put(`${lamp.name}: no photometric file`, { ...common, kind: "point_lamp", lumens: own.lumens })}
      />
      {own.kind !== "measured_lamp" && (
        <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
          An .ies file (LM-63) of a lamp that was measured.
        </Typography>
      )}
    </>
  );
}
