import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Operation, type Schemas, type SiteDocument, unwrap, type Vocabulary } from "../api/client";
import { newCover } from "../site/layers";
import { useEntryActions } from "./library";

export type Mood = Schemas["MoodSummary"];

/** Moods that are shipped, and those that the user keeps. */
export function useMoods() {
  return useQuery({ queryKey: ["moods"], queryFn: () => unwrap(client.GET("/api/moods")) as Promise<Mood[]> });
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

/** Finishes that came with moods are told by their ids, which are no longer than any. */
const GRADE = "mood-";
const gradeId = ({ id }: Mood) => `${GRADE}${id.slice(0, 32)}`;

/** What puts a site under a mood: what the mood does not set stays, so do the finishes that its shots have of their own. */
export function operationsOf(document: SiteDocument, mood: Mood, vocabulary: Vocabulary): Operation[] {
  const lit: Operation[] = GROUPS.map((group) => ({
    op: "replace",
    path: `/${group}`,
    value: { ...document[group], ...mood[group] },
  }));
  return [...lit, ...wettedBy(document, mood, vocabulary), ...gradedBy(document, mood)];
}

/** What lets the rain of a mood wet all that it reaches, where no cover of the site does. */
function wettedBy(document: SiteDocument, mood: Mood, vocabulary: Vocabulary): Operation[] {
  const wets = vocabulary.covers.filter((cover) => cover.of_rain).map(({ kind }) => kind);
  if (!(mood.air.rain as number) || document.weather.some(({ cover }) => wets.includes(cover.kind))) return [];
  const surfaces = ["ground", ...document.structures.map(({ id }) => id)];
  return wets.map((kind) => ({
    op: "add",
    path: "/weather/-",
    value: newCover(document, vocabulary, kind, surfaces),
  }));
}

/** What gives shots the grade of a mood, in place of another mood's or of none. */
function gradedBy({ shots, finishes }: SiteDocument, mood: Mood): Operation[] {
  const { steps } = mood.grade;
  const id = steps.length ? gradeId(mood) : "";
  const others = shots.flatMap(({ finish }, row): Operation[] =>
    (!finish || finish.startsWith(GRADE)) && finish !== id
      ? [{ op: "replace", path: `/shots/${row}/finish`, value: id }]
      : [],
  );
  if (!id) return others;
  const row = finishes.findIndex((one) => one.id === id);
  const value = { id, name: mood.name, steps };
  return [
    row < 0 ? { op: "add", path: "/finishes/-", value } : { op: "replace", path: `/finishes/${row}`, value },
    ...others,
  ];
}

/** Whether a site is under a mood as it is. */
export function isUnder(document: SiteDocument, mood: Mood): boolean {
  return GROUPS.every((group) =>
    Object.entries(mood[group]).every(
      ([name, value]) => JSON.stringify((document[group] as Record<string, unknown>)[name]) === JSON.stringify(value),
    ),
  );
}
