import CloseIcon from "@mui/icons-material/Close";
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import InputBase from "@mui/material/InputBase";
import ToggleButton from "@mui/material/ToggleButton";
import Tooltip from "@mui/material/Tooltip";
import { useState } from "react";
import { inWords } from "../api/client";
import { useVocabulary } from "../api/queries";
import { Deleted } from "../library/Deleted";
import { isUnder, type Mood, operationsOf, useMoodActions, useMoods } from "../library/moods";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { Section } from "./parts";

/** Light and air at one press: moods that are shipped, and one's own. */
export function MoodSection() {
  const { siteId, editor } = useSiteContext();
  const document = useDocument();
  const moods = useMoods();
  const { keep, remove, restore } = useMoodActions();
  const [name, setName] = useState("");
  const [removed, setRemoved] = useState<Mood | null>(null);
  const failed = [moods, keep, remove, restore].find((one) => one.isError)?.error;
  const vocabulary = useVocabulary().data;
  const set = (mood: Mood) =>
    vocabulary && editor.commit(`Mood: ${mood.name}`, operationsOf(editor.state()!.document, mood, vocabulary));
  const keepThis = async () => {
    // What is kept is what the server has.
    await editor.idle();
    keep.mutate(
      { site: siteId, name: name.trim() },
      {
        onSuccess: () => {
          setName("");
          useView.getState().set({ notice: { tone: "info", text: `“${name.trim()}” is there for all your sites.` } });
        },
      },
    );
  };
  return (
    <Section title="moods" tone={partColours.light}>
      <Box sx={{ width: 250, display: "grid", gap: 0.75 }}>
        <Box role="group" aria-label="Moods" sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
          {moods.data?.map((mood) => (
            <Box key={mood.id} sx={{ display: "flex" }}>
              <Tooltip describeChild title={mood.help}>
                <ToggleButton
                  value={mood.id}
                  size="small"
                  selected={isUnder(document, mood)}
                  onChange={() => set(mood)}
                  sx={{ textTransform: "none", fontSize: 12, px: 0.75, py: 0.25, color: colours.ink }}
                >
                  {mood.name}
                </ToggleButton>
              </Tooltip>
              {mood.own && (
                <IconButton
                  aria-label={`Delete the mood ${mood.name}`}
                  onClick={() => remove.mutate(mood.id, { onSuccess: () => setRemoved(mood) })}
                  sx={{ p: 0.25 }}
                >
                  <CloseIcon sx={{ fontSize: 14 }} />
                </IconButton>
              )}
            </Box>
          ))}
        </Box>
        <Box
          component="form"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) void keepThis();
          }}
          sx={{ display: "flex", gap: 0.5 }}
        >
          <InputBase
            value={name}
            onChange={(event) => setName(event.target.value)}
            placeholder="Name of a mood"
            inputProps={{ "aria-label": "Name of a mood", maxLength: 80 }}
            sx={{ flex: 1, fontSize: 12, borderBottom: `1px solid ${colours.rule}` }}
          />
          <Button type="submit" size="small" disabled={!name.trim() || keep.isPending}>
            Keep this one
          </Button>
        </Box>
        {failed && <Alert severity="error">{inWords(failed)}</Alert>}
        {removed && (
          <Deleted
            name={removed.name}
            onUndo={() => restore.mutate(removed.id, { onSuccess: () => setRemoved(null) })}
          />
        )}
      </Box>
    </Section>
  );
}
