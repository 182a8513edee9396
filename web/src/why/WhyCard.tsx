import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { WhyAnswer } from "../api/client";
import { shown } from "../api/declared";
import { probingIn } from "../site/inHand";
import { useView } from "../site/store";
import { colours } from "../theme/theme";

const WIDTH = 330;

/** Why something is, or is not, where the pointer rests: each signal's value, its weight and its share. */
export function WhyCard() {
  const asked = useView((state) => state.asked);
  const probing = useView(probingIn);
  if (!probing) return null;
  if (!asked)
    return (
      <Paper
        role="status"
        sx={{ position: "absolute", left: "50%", top: 52, transform: "translateX(-50%)", px: 1.5, py: 0.5 }}
      >
        <Typography variant="caption">Rest the pointer on anything to learn why it is there.</Typography>
      </Paper>
    );
  const left = Math.min(asked.x + 18, window.innerWidth - WIDTH - 12);
  const top = Math.max(60, Math.min(asked.y - 40, window.innerHeight - 420));
  return (
    <Paper
      role="dialog"
      aria-label="Why here"
      sx={{
        position: "fixed",
        left,
        top,
        width: WIDTH,
        maxHeight: 400,
        overflowY: "auto",
        p: 1.25,
        zIndex: 10,
        pointerEvents: "none",
        border: `1px solid ${colours.water}`,
      }}
    >
      {asked.problem && <Typography variant="caption">{asked.problem}</Typography>}
      {asked.answer?.measuring && <Typography variant="caption">Still being measured; the answer follows.</Typography>}
      {asked.answer && !asked.answer.measuring && <Answer answer={asked.answer} />}
    </Paper>
  );
}

function Answer({ answer }: { answer: WhyAnswer }) {
  return (
    <>
      <Typography variant="caption" component="div" sx={{ color: colours.faint }}>
        On {answer.surface}
        {answer.item && ` · ${answer.item}`}
      </Typography>
      {answer.layers.length === 0 && <Typography variant="caption">No layer is laid on it.</Typography>}
      {answer.layers.map((layer) => (
        <Box key={layer.layer} sx={{ borderTop: `1px solid ${colours.rule}`, pt: 0.5, mt: 0.5 }}>
          <Typography sx={{ fontSize: 13, fontWeight: 600 }}>{layer.words}</Typography>
          {layer.reasons.map((reason, row) => (
            <Box key={row} sx={{ display: "grid", gridTemplateColumns: "1fr 64px 40px", columnGap: 1, pt: 0.25 }}>
              <Typography variant="caption">{reason.words}</Typography>
              <Box
                role="img"
                aria-label={`Counts ${Math.round(reason.weight * 100)} %`}
                sx={{ height: 8, alignSelf: "center", background: colours.rule }}
              >
                <Box sx={{ width: `${reason.weight * 100}%`, height: 1, background: colours.water }} />
              </Box>
              <Typography variant="caption" sx={{ textAlign: "right", color: colours.oxide }}>
                {Math.abs(reason.share) < 0.005
                  ? ""
                  : `${reason.share > 0 ? "−" : "+"}${shown(Math.abs(reason.share), 0.01)}`}
              </Typography>
            </Box>
          ))}
        </Box>
      ))}
    </>
  );
}
