import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type CoverLayer, type Schemas, type SiteDocument, type Vocabulary, unwrap } from "../api/client";
import { freshName, newCover } from "../site/layers";

export type LibraryEntry = Schemas["EntrySummary"];

/** What the user keeps, as a site can use it. */
export function useLibrary(siteId: string) {
  return useQuery({
    queryKey: ["library", siteId],
    // The client types colours and pairs as lists.
    queryFn: async () =>
      (await unwrap<unknown>(
        client.GET("/api/sites/{site_id}/library", { params: { path: { site_id: siteId } } }),
      )) as LibraryEntry[],
  });
}

const entry = (entry_id: string) => ({ params: { path: { entry_id } } });

/** Letting an entry of the library go and bringing it back; each refreshes the list of its kind. */
export function useEntryActions(queryKey: string[]) {
  const queries = useQueryClient();
  const onSettled = () => queries.invalidateQueries({ queryKey });
  return {
    remove: useMutation({
      mutationFn: (id: string) => unwrap(client.DELETE("/api/library/{entry_id}", entry(id))),
      onSettled,
    }),
    restore: useMutation({
      mutationFn: (id: string) => unwrap(client.POST("/api/library/{entry_id}/restore", entry(id))),
      onSettled,
    }),
  };
}

/** Everything that can be done to kept covers; each refreshes them. */
export function useLibraryActions() {
  const queries = useQueryClient();
  const onSettled = () => queries.invalidateQueries({ queryKey: ["library"] });
  return {
    ...useEntryActions(["library"]),
    keep: useMutation({
      mutationFn: (body: { site: string; layer: string; name: string }) =>
        unwrap(client.POST("/api/library", { body })),
      onSettled,
    }),
    rename: useMutation({
      mutationFn: ({ id, name }: { id: string; name: string }) =>
        unwrap(client.PATCH("/api/library/{entry_id}", { ...entry(id), body: { name } })),
      onSettled,
    }),
  };
}

/** A new cover layer by a kept recipe. */
export function coverFrom(
  document: SiteDocument,
  vocabulary: Vocabulary,
  entry: Pick<LibraryEntry, "name" | "cover" | "recipe">,
  surfaces: string[],
): CoverLayer {
  const { cover, where, on_items } = entry.recipe as Pick<CoverLayer, "cover" | "where" | "on_items">;
  const names = document.weather.map((layer) => layer.name);
  return {
    ...newCover(document, vocabulary, entry.cover, surfaces),
    name: freshName(entry.name, names),
    cover,
    where,
    on_items,
  };
}
