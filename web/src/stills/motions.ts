import { useState } from "react";
import { client, type Schemas, type Shot, unwrap } from "../api/client";
import { useStartedJob } from "../jobs/useStartedJob";
import { useSiteContext } from "../site/context";

type Request = Schemas["MotionRequest"];
export type Format = Request["format"];

/** What a moving picture can be: its width in pixels, and paths of light for each of them. */
export const WIDTHS = [320, 640, 1280, 1920];
export const SAMPLES = [2, 4, 16, 64, 256];
export const FORMATS: { format: Format; label: string }[] = [
  { format: "mp4", label: "MP4, H.264" },
  { format: "webm", label: "WebM, VP9" },
  { format: "frames", label: "PNG pictures in a zip" },
];

/** How many pictures a motion has. */
export const picturesOf = ({ seconds, rate }: Pick<Shot["motion"], "seconds" | "rate">) =>
  Math.max(Math.round(seconds * rate), 1);

/** Take a shot that moves, and follow that. */
export function useTaking(shot: Shot) {
  const { siteId } = useSiteContext();
  const [wanted, setWanted] = useState<Omit<Request, "shot">>({ width: 640, samples: 4, format: "mp4" });
  const { start, job } = useStartedJob(() =>
    unwrap(
      client.POST("/api/sites/{site_id}/motions", {
        params: { path: { site_id: siteId } },
        body: { shot: shot.id, ...wanted },
      }),
    ),
  );
  return { wanted, set: (part: Partial<typeof wanted>) => setWanted({ ...wanted, ...part }), start, job };
}
