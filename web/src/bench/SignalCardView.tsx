import CloseIcon from "@mui/icons-material/Close";
import ContrastIcon from "@mui/icons-material/Contrast";
import TuneIcon from "@mui/icons-material/Tune";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Popover from "@mui/material/Popover";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { memo, type ReactNode, useRef, useState } from "react";
import type { SignalCard, Vocabulary } from "../api/client";
import { useSite } from "../api/queries";
import { declaredKind } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useRoving } from "../forms/useRoving";
import { useChange, useSiteContext } from "../site/context";
import { colours } from "../theme/theme";
import { MaskPicture } from "./MaskPicture";
import { Ramp } from "./Ramp";
import { StrokeTools } from "./StrokeTools";
import { told } from "./told";
import type { WhereReport } from "./where";

const COMBINES = [
  { value: "multiply", label: "and", help: "Only where both hold: one times the other" },
  { value: "max", label: "or", help: "Where either holds: the stronger of both" },
  { value: "min", label: "at most", help: "At most this: the weaker of both" },
  { value: "add", label: "add", help: "Both together, up to full" },
  { value: "subtract", label: "but not", help: "Taken away where this holds" },
] as const;

interface Props {
  card: SignalCard;
  first: boolean;
  last: boolean;
  /** Move the card along the chain, by -1 or 1. */
  onMove: (by: number) => void;
  path: string;
  subject: string;
  report?: WhereReport;
  vocabulary: Vocabulary;
}

/** One signal of a mask: its histogram with the ramp to drag, its settings, and what it alone lets through. */
export const SignalCardView = memo(function SignalCardView(props: Props) {
  const { card, first, last, onMove, path, subject, report, vocabulary } = props;
  const change = useChange();
  const { siteId } = useSiteContext();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const tools = useRef<HTMLDivElement>(null);
  useRoving(tools);
  const reading = vocabulary.signals.find((signal) => signal.kind === card.signal.kind)!;
  const row = report?.meta.cards?.findIndex((one) => one.id === card.id) ?? -1;
  const title = `${subject}: ${reading.title.toLowerCase()}`;
  const put = (name: string, value: unknown) => [{ op: "replace" as const, path: `${path}/${name}`, value }];
  const declared = declaredKind(card.signal.kind);
  const facts = told(card.signal as unknown as Record<string, unknown>, declared, useSite(siteId).data!.document);
  return (
    <Box
      component="article"
      aria-label={`${reading.title} card`}
      sx={{
        width: 188,
        flex: "none",
        border: `1px solid ${colours.rule}`,
        borderTop: `2px solid ${colours.water}`,
        background: colours.pale,
        borderRadius: 0.5,
        opacity: card.enabled ? 1 : 0.5,
        display: "flex",
        flexDirection: "column",
      }}
    >
      <Box
        sx={{ display: "flex", alignItems: "center", px: 0.75, height: 26, borderBottom: `1px solid ${colours.rule}` }}
      >
        {!first && (
          <select
            aria-label={`How ${reading.title} joins`}
            title={COMBINES.find((one) => one.value === card.combine)?.help}
            value={card.combine}
            onChange={(event) => change.now(title, put("combine", event.target.value))}
            style={{
              font: "inherit",
              fontSize: 11,
              border: 0,
              background: "transparent",
              color: colours.oxide,
              marginRight: 5,
              padding: 0,
              // As wide as the word that is chosen, so that the signal's name has room.
              appearance: "none",
              fieldSizing: "content",
              textDecoration: "underline dotted",
              cursor: "pointer",
            }}
          >
            {COMBINES.map((one) => (
              <option key={one.value} value={one.value}>
                {one.label}
              </option>
            ))}
          </select>
        )}
        <Tooltip describeChild title={reading.help}>
          <Box
            component="span"
            sx={{
              flex: 1,
              fontWeight: 600,
              fontSize: 12.5,
              overflow: "hidden",
              textOverflow: "ellipsis",
              whiteSpace: "nowrap",
            }}
          >
            {reading.title}
          </Box>
        </Tooltip>
        <Box ref={tools} role="toolbar" aria-label={reading.title} sx={{ display: "contents" }}>
          <SmallToggle
            label={<ContrastIcon sx={{ fontSize: 13, display: "block" }} />}
            help="Invert: count where it does not"
            on={card.inverted}
            onClick={() => change.now(title, put("inverted", !card.inverted))}
          />
          <SmallToggle
            label="on"
            help="On: takes part in the mask"
            on={card.enabled}
            onClick={() => change.now(title, put("enabled", !card.enabled))}
          />
          <IconButton
            aria-label={`${reading.title} settings`}
            onClick={(event) => setAnchor(event.currentTarget)}
            sx={{ p: 0.25 }}
          >
            <TuneIcon sx={{ fontSize: 15 }} />
          </IconButton>
          <IconButton
            aria-label={`Delete ${reading.title}`}
            onClick={() => change.now(`${subject}: delete ${reading.title.toLowerCase()}`, [{ op: "remove", path }])}
            sx={{ p: 0.25 }}
          >
            <CloseIcon sx={{ fontSize: 15 }} />
          </IconButton>
        </Box>
      </Box>
      {facts && (
        <Typography
          variant="caption"
          noWrap
          title={facts}
          sx={{ px: 0.75, color: colours.faint, fontSize: 11, lineHeight: 1.4 }}
        >
          {facts}
        </Typography>
      )}
      <Ramp
        card={card}
        low={reading.low}
        high={reading.high}
        unit={reading.unit}
        usual={[reading.starts_at, reading.full_at]}
        histogram={row >= 0 ? report!.histogram(row) : null}
        onLive={(starts_at, full_at) =>
          change.live(title, [...put("starts_at", starts_at), ...put("full_at", full_at)])
        }
        onSettle={change.settle}
      />
      {card.signal.kind === "painted" && (
        <Box sx={{ px: 0.75 }}>
          <StrokeTools
            tools={["stroke", "wipe"]}
            path={`${path}/signal/strokes`}
            subject={title}
            strokes={card.signal.strokes.length}
          />
        </Box>
      )}
      <Box sx={{ px: 0.75, pb: 0.75 }}>
        <MaskPicture picture={row >= 0 ? report!.cardPicture(row) : null} label={`${reading.title} mask`} height={44} />
      </Box>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "top", horizontal: "left" }}
        transformOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <Box sx={{ p: 1.5, width: 260 }}>
          <DeclaredForm
            subject={title}
            path={`${path}/signal`}
            declared={declared}
            value={card.signal as Record<string, unknown>}
          />
          <Box sx={{ display: "flex", gap: 0.5 }}>
            <MoveButton name="Earlier" off={first} onClick={() => onMove(-1)} />
            <MoveButton name="Later" off={last} onClick={() => onMove(1)} />
          </Box>
        </Box>
      </Popover>
    </Box>
  );
});

/** Stays in the focus order at the end of the chain: a button that turns disabled under the focus swallows Escape. */
function MoveButton({ name, off, onClick }: { name: string; off: boolean; onClick: () => void }) {
  return (
    <Button aria-disabled={off} sx={{ opacity: off ? 0.4 : 1 }} onClick={() => !off && onClick()}>
      {name}
    </Button>
  );
}

interface ToggleProps {
  label: ReactNode;
  help: string;
  on: boolean;
  onClick: () => void;
}

function SmallToggle({ label, help, on, onClick }: ToggleProps) {
  return (
    <Tooltip describeChild title={help}>
      <button
        type="button"
        aria-pressed={on}
        aria-label={help}
        onClick={onClick}
        style={{
          font: "inherit",
          fontSize: 10.5,
          border: 0,
          borderRadius: 2,
          padding: "0 3px",
          marginLeft: 2,
          cursor: "pointer",
          color: on ? colours.water : colours.faint,
          background: on ? colours.waterPale : "transparent",
        }}
      >
        {label}
      </button>
    </Tooltip>
  );
}
