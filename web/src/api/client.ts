import createClient from "openapi-fetch";
import type { components, paths } from "../../generated/schema";

export type Schemas = components["schemas"];
export type SiteDocument = Schemas["SiteDocument"];
export type SiteState = Schemas["SiteState"];
export type SiteSummary = Schemas["SiteSummary"];
export type Operation = { op: "add" | "remove" | "replace"; path: string; value?: unknown };
export type SignalCard = Schemas["SignalCard"];
export type Scatter = Schemas["Scatter"];
export type CoverLayer = Schemas["CoverLayer"];
export type Structure = Schemas["Structure"];
export type Shot = Schemas["Shot"];
export type JobState = Schemas["JobState"];
export type SceneManifest = Schemas["SceneManifest"];
export type ExportCost = Schemas["ExportCost"];
export type SurfaceEntry = Schemas["SurfaceEntry"];
export type StoredMap = Schemas["StoredMap"];
export type StoredPanorama = Schemas["StoredPanorama"];
export type StoredPicture = Schemas["StoredPicture"];
export type StoredPhotometry = Schemas["StoredPhotometry"];
export type BeamsState = Schemas["BeamsState"];
export type PlacedLamp = SiteDocument["lamps"][number];
export type Grass = SiteDocument["grass"][number];
export type DropletLayer = SiteDocument["droplets"][number];
export type PlacedDecal = SiteDocument["decals"][number];
export type TextureSet = Schemas["TextureSet"];
export type Vocabulary = Schemas["Vocabulary"];
export type WhyAnswer = Schemas["WhyAnswer"];
export type ImportState = Schemas["ImportState"];

/** A problem as the server tells it: what happened, by field, and the status it came with. */
export class Problem extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly fields: { field: string; message: string }[] = [],
  ) {
    super(message);
  }
}

/** What went wrong in one text: what happened, then what is said by field. */
export function inWords(error: unknown): string {
  if (!(error instanceof Problem)) return error instanceof Error ? error.message : String(error);
  return [error.message, ...error.fields.map((field) => field.message)].join(" ");
}

let csrf = "";

/** Remember the token that goes with every change. */
export function rememberCsrf(token: string) {
  csrf = token;
}

/** Headers of a change. */
export function changeHeaders(): Record<string, string> {
  return { "X-CSRFToken": csrf };
}

const client = createClient<paths>({ baseUrl: "/", credentials: "same-origin" });
client.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrf);
    return request;
  },
});
export { client };

/** Turn an answer that is no success into a Problem. */
export async function problemOf(response: Response, body?: unknown): Promise<Problem> {
  const told = (body ?? (await response.json().catch(() => null))) as {
    message?: string;
    detail?: string;
    fields?: { field: string; message: string }[];
  } | null;
  const words =
    told?.message ??
    (response.status === 401
      ? "You are signed out. Sign in again; everything up to your last change is saved."
      : `The server could not answer (${response.status}). Nothing was changed; try again in a moment.`);
  return new Problem(words, response.status, told?.fields ?? []);
}

/** The data of a typed answer, or the problem as an exception. */
export async function unwrap<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let given;
  try {
    given = await answer;
  } catch {
    throw new Problem("The server cannot be reached. What you changed since is kept here and sent when it answers.", 0);
  }
  if (given.error !== undefined || !given.response.ok) throw await problemOf(given.response, given.error);
  return given.data as T;
}
