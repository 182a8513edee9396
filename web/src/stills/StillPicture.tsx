import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import { useDocument } from "../site/context";
import { colours } from "../theme/theme";
import { stepsOf, useFinished } from "./finishes";
import { pictureOf, type Region, regionBetween, type Still } from "./stills";

/** Of the window's height, per cent that a picture takes at most. */
const ROOM = 64;

/** Width over height of what a still shows: all of its picture, or a part. */
function ratioOfPicture({ width, height, region }: Still) {
  const [left, top, right, bottom] = region ?? [0, 0, 1, 1];
  return ((right - left) * width) / ((bottom - top) * height);
}

/** A still, as large as there is room. A drag over it marks the part that the next one is of. */
export function StillPicture({
  still,
  marked,
  onMark,
}: {
  still: Still;
  marked: Region | null;
  onMark: (region: Region | null) => void;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const [from, setFrom] = useState<[number, number] | null>(null);
  const whole = !still.region;
  const document = useDocument();
  // What is still coming is shown as it comes.
  const { address } = useFinished(still.going || !still.bytes ? undefined : still, stepsOf(document, still.shot));
  const place = (event: React.PointerEvent): [number, number] => {
    const box = frame.current!.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  };
  return (
    <Box
      sx={{ display: "grid", placeItems: "center", background: colours.ink, minHeight: 0, overflow: "hidden", p: 1 }}
    >
      {still.picture ? (
        <Box
          ref={frame}
          sx={{
            position: "relative",
            display: "flex",
            width: `min(100%, ${ROOM}vh * ${ratioOfPicture(still)})`,
            touchAction: "none",
          }}
          onPointerDown={(event) => {
            if (!whole || event.button !== 0) return;
            event.currentTarget.setPointerCapture(event.pointerId);
            setFrom(place(event));
            onMark(null);
          }}
          onPointerMove={(event) => from && onMark(regionBetween(from, place(event)))}
          onPointerUp={() => setFrom(null)}
        >
          <img
            src={address ?? pictureOf(still)}
            alt={`Still of ${still.name}`}
            draggable={false}
            style={{ width: "100%", aspectRatio: ratioOfPicture(still) }}
          />
          {whole && marked && (
            <Box
              data-testid="marked"
              sx={{
                position: "absolute",
                left: `${marked[0] * 100}%`,
                top: `${marked[1] * 100}%`,
                width: `${(marked[2] - marked[0]) * 100}%`,
                height: `${(marked[3] - marked[1]) * 100}%`,
                outline: `2px solid ${colours.pale}`,
                boxShadow: "0 0 0 2000px rgba(20, 22, 24, 0.4)",
                pointerEvents: "none",
              }}
            />
          )}
        </Box>
      ) : (
        <Typography sx={{ color: colours.pale }}>
          {still.going ? "The first picture is on its way …" : "No picture came of it."}
        </Typography>
      )}
    </Box>
  );
}
