import Button from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import { type CoverLayer, inWords } from "../api/client";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { useLibraryActions } from "./library";

/** Keeps a cover's recipe for other sites. */
export function KeepButton({ layer }: { layer: CoverLayer }) {
  const { siteId } = useSiteContext();
  const { keep } = useLibraryActions();
  const tell = (tone: "info" | "error", text: string) => useView.getState().set({ notice: { tone, text } });
  return (
    <Tooltip title="Keep this cover, its look and its mask, for all your sites">
      <Button
        size="small"
        disabled={keep.isPending}
        onClick={() =>
          keep.mutate(
            { site: siteId, layer: layer.id, name: layer.name },
            {
              onSuccess: (entry) =>
                tell("info", `“${entry.name}” is in the library: on any of your sites, add a cover from there.`),
              onError: (error) => tell("error", inWords(error)),
            },
          )
        }
      >
        Keep in library
      </Button>
    </Tooltip>
  );
}
