import {
  keepPreviousData,
  type QueryClient,
  queryOptions,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useMemo } from "react";
import pLimit from "p-limit";
import {
  changeHeaders,
  client,
  problemOf,
  rememberCsrf,
  type SceneManifest,
  type SiteDocument,
  type SiteState,
  type StoredMap,
  type StoredPanorama,
  type StoredPhotometry,
  type StoredPicture,
  type PlacedLamp,
  type TextureSet,
  type Vocabulary,
  unwrap,
} from "./client";
import type { AboveMeta, DaylightMeta } from "./daylight";
import { type Pack, partOf, readPack } from "./pack";
import { wholeTable } from "./parts";

const MOST_TABLES = 40;
// A browser opens six connections to a server: one is the stream of events, one is left for what the user does.
const inTurn = pLimit(4);

/** Files that jobs have written for a site, newest first. */
export function useMadeFiles(siteId: string) {
  return useQuery({
    queryKey: ["files", siteId],
    queryFn: () => unwrap(client.GET("/api/sites/{site_id}/files", { params: { path: { site_id: siteId } } })),
  });
}

/** What the maps of an export come to: by size of texels, and as each shot needs them for a picture so many pixels high. */
export function useExportCosts(siteId: string, rows: number) {
  return useQuery({
    queryKey: ["export costs", siteId, rows],
    queryFn: () =>
      unwrap(
        client.GET("/api/sites/{site_id}/exports/costs", { params: { path: { site_id: siteId }, query: { rows } } }),
      ),
    // The site may have been changed since the dialog was last open.
    staleTime: 0,
    placeholderData: (before) => before,
  });
}

/** Delete a file that a job has written. */
export function useDeleteMadeFile(siteId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (job_id: string) => unwrap(client.DELETE("/api/jobs/{job_id}/file", { params: { path: { job_id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["files", siteId] }),
  });
}

/** What the user holds on the server, and how much that may be. */
export function useStorage() {
  return useQuery({ queryKey: ["storage"], queryFn: () => unwrap(client.GET("/api/storage")) });
}

/** Who is signed in. */
export function useSession() {
  return useQuery({
    queryKey: ["session"],
    queryFn: async () => {
      const session = await unwrap(client.GET("/api/session"));
      rememberCsrf(session.csrf);
      return session;
    },
    staleTime: Infinity,
  });
}

/** Sign in with a name and a password. */
export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: { user: string; password: string }) => unwrap(client.POST("/api/session", { body })),
    onSuccess: (session) => {
      rememberCsrf(session.csrf);
      queries.setQueryData(["session"], session);
    },
  });
}

/** Sign out and forget everything. */
export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => unwrap(client.DELETE("/api/session")),
    onSuccess: (session) => {
      rememberCsrf(session.csrf);
      queries.setQueryData(["session"], session);
      queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "session" });
    },
  });
}

/** The user's sites. */
export function useSites() {
  return useQuery({ queryKey: ["sites"], queryFn: () => unwrap(client.GET("/api/sites")), refetchInterval: 8000 });
}

const site = (site_id: string) => ({ params: { path: { site_id } } });

/** Everything that can be done to sites as a whole; each refreshes the list. */
export function useSiteActions() {
  const queries = useQueryClient();
  const onSettled = () => queries.invalidateQueries({ queryKey: ["sites"] });
  return {
    create: useMutation({
      mutationFn: (name: string) => unwrap(client.POST("/api/sites", { body: { name } })),
      onSettled,
    }),
    rename: useMutation({
      mutationFn: ({ id, name }: { id: string; name: string }) =>
        unwrap(client.PATCH("/api/sites/{site_id}", { ...site(id), body: { name } })),
      onSettled,
    }),
    duplicate: useMutation({
      mutationFn: (id: string) => unwrap(client.POST("/api/sites/{site_id}/duplicate", site(id))),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: (id: string) => unwrap(client.DELETE("/api/sites/{site_id}", site(id))),
      onSettled,
    }),
    restore: useMutation({
      mutationFn: (id: string) => unwrap(client.POST("/api/sites/{site_id}/restore", site(id))),
      onSettled,
    }),
  };
}

/** A site as the server has it now. */
export const readSite = async (id: string) => (await unwrap(client.GET("/api/sites/{site_id}", site(id)))) as SiteState;

/** Sites with edits that the server has not answered yet. */
export const unanswered = new Set<string>();

/**
 * One site with its document. An edit may be answered while it is read: the later of the two is what the site is. What is read
 * while one is on its way lacks it, and its answer tells the newest state anyway.
 */
export const siteQuery = (queries: QueryClient, id: string) =>
  queryOptions({
    queryKey: ["site", id],
    queryFn: async () => {
      const read = await readSite(id);
      const had = queries.getQueryData<SiteState>(["site", id]);
      return had && (had.revision > read.revision || unanswered.has(id)) ? had : read;
    },
    staleTime: Infinity,
  });

/** One site with its document. */
export const useSite = (id: string) => useQuery(siteQuery(useQueryClient(), id));

/** What layers can be made of. */
export function useVocabulary() {
  return useQuery({
    queryKey: ["vocabulary"],
    // The client types pairs of numbers as lists.
    queryFn: async () => (await unwrap<unknown>(client.GET("/api/vocabulary"))) as Vocabulary,
    staleTime: Infinity,
  });
}

/** Fetch in one piece what a page that opens would ask for one by one, and keep it under those addresses. */
async function keepOpening(queries: QueryClient, id: string) {
  const site = `/api/sites/${id}`;
  const pack = await fetchPack<Record<string, { mesh: string; maps?: string }>>(`${site}/opening`).catch(() => null);
  for (const [surface, opening] of Object.entries(pack?.meta ?? {})) {
    const address = `${site}/surfaces/${surface}`;
    queries.setQueryData(["pack", `${address}/mesh?key=${opening.mesh}`], partOf(pack!, `${surface}/mesh/`));
    if (opening.maps)
      queries.setQueryData(
        ["pack", `${address}/maps?key=${opening.maps}&texel=coarsest`],
        partOf(pack!, `${surface}/maps/`),
      );
  }
}

const readScene = async (site_id: string, revision: number) =>
  (await unwrap<unknown>(
    client.GET("/api/sites/{site_id}/scene", { params: { path: { site_id }, query: { revision } } }),
  )) as SceneManifest;

/** The addresses of the pictures of a site's shots, by their ids. */
export const useShotPictures = (id: string) =>
  useQuery({
    queryKey: ["shot pictures", id],
    queryFn: () => unwrap(client.GET("/api/sites/{site_id}/shots/pictures", site(id))),
    staleTime: Infinity,
  });

/** Milliseconds until a scene is asked for again of which something is being measured. */
const WHILE_MEASURING = 5000;

/** What there is to show of a site at a revision. */
export const sceneQuery = (queries: QueryClient, id: string, revision: number) =>
  queryOptions({
    queryKey: ["scene", id, revision],
    queryFn: async () => {
      const opens = queries.getQueriesData({ queryKey: ["scene", id] }).every(([, data]) => data === undefined);
      const [found] = await Promise.all([readScene(id, revision), opens ? keepOpening(queries, id) : undefined]);
      if (found.revision > revision) {
        // Somebody has gone on meanwhile: that is the scene of what is read next.
        queries.setQueryData(["scene", id, found.revision], found);
        void queries.invalidateQueries({ queryKey: ["site", id] });
      }
      return found;
    },
    // What is measured already is shown while the rest goes on.
    refetchInterval: ({ state }) => (state.data?.measuring ? WHILE_MEASURING : false),
    staleTime: Infinity,
    gcTime: 60_000,
  });

/** What there is to show of a site at a revision. The last scene stays while the next one is on its way. */
export const useScene = (id: string, revision: number, paused: boolean) =>
  useQuery({
    ...sceneQuery(useQueryClient(), id, revision),
    enabled: !paused,
    placeholderData: (last) => last,
  });

/** What each cover takes of its surfaces as the dials stand; asked again until all is measured. */
export function useCoverage(id: string, revision: number) {
  return useQuery({
    queryKey: ["coverage", id, revision],
    queryFn: () => unwrap(client.GET("/api/sites/{site_id}/coverage", site(id))),
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) => (state.data?.measuring ? 2000 : false),
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

/** Send the files of a texture set, to be told apart by their names. */
export async function uploadSet(siteId: string, files: File[]): Promise<TextureSet> {
  const body = new FormData();
  for (const file of files) body.append("files", file);
  const response = await fetch(`/api/sites/${siteId}/materials/sets`, {
    method: "POST",
    headers: changeHeaders(),
    body,
  });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as TextureSet;
}

async function sendFile<Found>(address: string, file: File): Promise<Found> {
  const body = new FormData();
  body.append("file", file);
  const response = await fetch(address, { method: "POST", headers: changeHeaders(), body });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as Found;
}

/** Send a height map. */
export const uploadHeightMap = (siteId: string, file: File) =>
  sendFile<StoredMap>(`/api/sites/${siteId}/ground/maps`, file);

/** Send a panorama. */
export const uploadPanorama = (siteId: string, file: File) =>
  sendFile<StoredPanorama>(`/api/sites/${siteId}/light/panoramas`, file);

/** Which of those that a decal's rule lays is at a point of a surface; null for none. */
export const spreadAt = (siteId: string, decal: string, surface: string, position: number[]) =>
  unwrap(
    client.POST("/api/sites/{site_id}/decals/{decal_id}/at", {
      params: { path: { site_id: siteId, decal_id: decal } },
      body: { surface, position },
    }),
  ).then(({ found }) => found);

/** Send a picture for a decal. */
export const uploadDecalPicture = (siteId: string, file: File) =>
  sendFile<StoredPicture>(`/api/sites/${siteId}/decals/pictures`, file);

/** Send a photometric file. */
export const uploadPhotometry = (siteId: string, file: File) =>
  sendFile<StoredPhotometry>(`/api/sites/${siteId}/lamps/photometry`, file);

/** Fetch a pack. */
export async function fetchPack<Meta>(address: string, signal?: AbortSignal): Promise<Pack<Meta>> {
  const response = await fetch(address, { credentials: "same-origin", signal });
  if (!response.ok) throw await problemOf(response);
  return readPack<Meta>(await response.arrayBuffer());
}

/** Ask for a pack with a body, as previews are. */
export async function postPack<Meta>(address: string, body: unknown, signal?: AbortSignal): Promise<Pack<Meta>> {
  const response = await fetch(address, {
    method: "POST",
    credentials: "same-origin",
    headers: { "Content-Type": "application/json", ...changeHeaders() },
    body: JSON.stringify(body),
    signal,
  });
  if (!response.ok) throw await problemOf(response);
  return readPack<Meta>(await response.arrayBuffer());
}

/** What sun, moon and sky send as a light is set; while it is dragged the last that came stays. */
export function useDaylight({ light, air }: Pick<SiteDocument, "light" | "air">, lamplight: number) {
  const query = `${lightQuery(light, lamplight)}&air=${encodeURIComponent(JSON.stringify(air))}`;
  return usePack<DaylightMeta>(`/api/daylight?${query}`).data;
}

const lightQuery = (light: SiteDocument["light"], lamplight: number) =>
  `light=${encodeURIComponent(JSON.stringify(light))}&lamplight=${lamplight.toPrecision(3)}`;

/** How lamps shine under a sky, in their order; lamps that are alike are asked for once. */
export function useBeams(lamps: PlacedLamp[], light: SiteDocument["light"]) {
  const kinds = [...new Set(lamps.map(({ lamp }) => JSON.stringify(lamp)))];
  const query = { lamps: `[${kinds.join(",")}]`, light: JSON.stringify(light) };
  const { data } = useQuery({
    queryKey: ["beams", query],
    queryFn: () => unwrap(client.GET("/api/beams", { params: { query } })),
    enabled: kinds.length > 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 20_000,
  });
  return useMemo(() => {
    if (!data || !kinds.length) return null;
    const rows = lamps.map(({ lamp }) => kinds.indexOf(JSON.stringify(lamp)));
    if (data.beams.length < kinds.length) return null;
    return { dark: data.dark, beams: rows.map((row) => data.beams[row]), levels: rows.map((row) => data.levels[row]) };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the kinds follow from the lamps
  }, [data, lamps]);
}

/** What a layer of drops comes to, by surface, once the scene has it. */
export function useDropletCost(siteId: string, id: string) {
  const revision = useSite(siteId).data!.revision;
  const scene = useScene(siteId, revision, true).data;
  const keys = scene?.droplets.filter(({ layer, mesh }) => layer === id && mesh).map(({ mesh }) => mesh) ?? [];
  return useQuery({
    queryKey: ["droplets", siteId, id, keys.join()],
    queryFn: () =>
      unwrap(
        client.GET("/api/sites/{site_id}/droplets/{layer_id}/cost", {
          params: { path: { site_id: siteId, layer_id: id } },
        }),
      ),
    enabled: keys.length > 0,
    placeholderData: keepPreviousData,
  });
}

/** What is seen above the horizon; nothing until that of the very light is there. */
export function useAbove(light: SiteDocument["light"] | null, lamplight: number) {
  const address = light && `/api/above?${lightQuery(light, lamplight)}`;
  return useQuery(packQuery<AboveMeta>(address)).data;
}

/** A pack by its address, kept while it is shown. */
export function usePack<Meta>(address: string | null) {
  return useQuery({ ...packQuery<Meta>(address), placeholderData: keepPreviousData });
}

// The latest whole table of each layer: of the next one only the parts that differ are asked for.
const tables = new Map<string, { key: string; pack: Pack }>();

/** What a scatter layer places, by the key of its table; only what differs from the last table is sent. */
export function usePlacements<Meta>(siteId: string, layer: string, key: string) {
  const address = `/api/sites/${siteId}/scatters/${layer}/placements`;
  return useQuery({
    queryKey: ["placements", siteId, layer, key],
    queryFn: async ({ signal }) => {
      const earlier = tables.get(address);
      const known = earlier && earlier.key !== key ? `&known=${earlier.key}` : "";
      const sent = await inTurn(() => fetchPack<Meta>(`${address}?key=${key}${known}`, signal));
      const pack = wholeTable(sent, earlier?.pack ?? null);
      tables.delete(address);
      tables.set(address, { key, pack });
      // Layers of sites that were left need not be remembered.
      if (tables.size > MOST_TABLES) tables.delete(tables.keys().next().value!);
      return pack;
    },
    enabled: key !== "",
    staleTime: Infinity,
    gcTime: 20_000,
    placeholderData: keepPreviousData,
  });
}

/** How a pack is asked for, for one or for many at once. */
export function packQuery<Meta>(address: string | null) {
  return queryOptions({
    queryKey: ["pack", address],
    queryFn: ({ signal }) => inTurn(() => fetchPack<Meta>(address!, signal)),
    enabled: address !== null,
    staleTime: Infinity,
    gcTime: 20_000,
  });
}
