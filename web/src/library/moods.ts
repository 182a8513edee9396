import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Operation, type Schemas, type SiteDocument, unwrap } from "../api/client";
import { useEntryActions } from "./library";

export type Mood = Schemas["MoodSummary"];

/** Moods that are shipped, and those that the user keeps. */
export function useMoods() {
  return useQuery({ queryKey: ["moods"], queryFn: () => unwrap<Mood[]>(client.GET("/api/moods")) });
}

/** Keeping a mood, letting it go and bringing it back; each refreshes the list. */
export function useMoodActions() {
  const queries = useQueryClient();
  const onSettled = () => queries.invalidateQueries({ queryKey: ["moods"] });
  return {
    ...useEntryActions(["moods"]),
    keep: useMutation({
      mutationFn: (body: { site: string; name: string }) => unwrap(client.POST("/api/moods", { body })),
      onSettled,
    }),
  };
}

/** The groups of a document that a mood sets fields of. */
const GROUPS = ["light", "air"] as const;

/** What puts a site under a mood: what the mood does not set stays. */
export function operationsOf(document: SiteDocument, mood: Mood): Operation[] {
  return GROUPS.map((group) => ({
    op: "replace",
    path: `/${group}`,
    value: { ...document[group], ...mood[group] },
  }));
}

/** Whether a site is under a mood as it is. */
export function isUnder(document: SiteDocument, mood: Mood): boolean {
  return GROUPS.every((group) =>
    Object.entries(mood[group]).every(
      ([name, value]) => JSON.stringify((document[group] as Record<string, unknown>)[name]) === JSON.stringify(value),
    ),
  );
}
