import AddIcon from "@mui/icons-material/Add";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import ListItemText from "@mui/material/ListItemText";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { SignalCard, SiteDocument, Vocabulary } from "../api/client";
import { defaultsOf } from "../api/declared";
import { useChange, useDocument } from "../site/context";
import { colours } from "../theme/theme";
import { Heading, Section } from "./parts";
import { ShareMask } from "./ShareMask";
import { chainOf } from "../site/sharedMasks";
import { SignalCardView } from "./SignalCardView";
import type { WhereReport } from "./where";

interface WhereProps {
  where: SiteDocument["weather"][number]["where"];
  /** JSON pointer of the mask. */
  path: string;
  subject: string;
  report?: WhereReport;
  vocabulary: Vocabulary;
  /** The masks that the layer has, where it has several, and which of them is shown. */
  masks?: { value: string; label: string; cards: number }[];
  of?: string;
  onMask?: (value: string) => void;
}

/** The chain of cards that says where. */
export function WhereSection({ where, path: at, subject, report, vocabulary, masks, of, onMask }: WhereProps) {
  const change = useChange();
  const chain = chainOf(useDocument(), where, at);
  const { path } = chain;
  const cards = chain.cards as SignalCard[];
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const add = (signal: Vocabulary["signals"][number]) => {
    const value: SignalCard = {
      id: `${signal.kind}-${Math.random().toString(36).slice(2, 7)}`,
      signal: defaultsOf(signal.kind) as SignalCard["signal"],
      starts_at: signal.starts_at,
      full_at: signal.full_at,
      soft: true,
      inverted: false,
      combine: "multiply",
      enabled: true,
    };
    change.now(`${subject}: add ${signal.title.toLowerCase()}`, [{ op: "add", path: `${path}/-`, value }]);
    setAnchor(null);
  };
  const move = (index: number, by: number) => {
    const next = [...cards];
    next.splice(index + by, 0, ...next.splice(index, 1));
    change.now(`${subject}: order of signals`, [{ op: "replace", path, value: next }]);
  };
  const everywhere = "everywhere, until a signal says where";
  const title = (
    <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
      {masks ? (
        <select
          aria-label="Which mask"
          value={of}
          onChange={(event) => onMask?.(event.target.value)}
          style={{ font: "inherit", fontSize: 12, fontWeight: 600, border: 0, background: "transparent", padding: 0 }}
        >
          {masks.map((mask) => (
            <option key={mask.value} value={mask.value}>
              {mask.label}
              {mask.cards ? ` (${mask.cards})` : ""}
            </option>
          ))}
        </select>
      ) : (
        <Heading text={cards.length ? "where" : everywhere} />
      )}
      {masks && !cards.length && (
        <Typography variant="caption" sx={{ color: colours.faint }}>
          {everywhere}
        </Typography>
      )}
      <ShareMask where={where} path={at} subject={subject} />
    </Box>
  );
  return (
    <Section title={title} name="Where" tone={colours.water} wide>
      <Box sx={{ display: "flex", gap: 0.75, overflowX: "auto", pb: 0.5, alignItems: "stretch" }}>
        {cards.map((card, index) => (
          <SignalCardView
            key={card.id}
            {...{ card, subject, report, vocabulary }}
            first={index === 0}
            last={index === cards.length - 1}
            onMove={(by) => move(index, by)}
            path={`${path}/${index}`}
          />
        ))}
        <IconButton
          aria-label="Add a signal"
          onClick={(event) => setAnchor(event.currentTarget)}
          disabled={cards.length >= 16}
          sx={{ alignSelf: "center", border: `1px dashed ${colours.ruleDark}` }}
        >
          <AddIcon />
        </IconButton>
        <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
          {vocabulary.signals.map((signal) => (
            <MenuItem key={signal.kind} dense onClick={() => add(signal)} sx={{ maxWidth: 420, whiteSpace: "normal" }}>
              <ListItemText
                primary={signal.title}
                secondary={`${signal.help}${signal.on_cells ? " Measured by rays, once." : ""}`}
              />
            </MenuItem>
          ))}
        </Menu>
      </Box>
    </Section>
  );
}
