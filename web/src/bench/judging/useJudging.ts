import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, client, type PrintReport, type Spot } from "../../api/client";
import { onceRested, type Pictures } from "../../live/pictures";

/** A hand that rests this long is judging: the slow figures are worked out then. */
const REST_MS = 1200;

export type Highlight = "lost" | "thin" | "narrow" | "specks";

/**
 * What is slow to judge of a saved sheet: lost detail, and what a press could not hold; and which of
 * it is shown on the sheet.
 */
export function useJudging(id: number, revision: number, isSaved: boolean, pictures: Pictures) {
  const [highlight, setHighlight] = useState<Highlight | null>(null);
  const [rested, setRested] = useState(0);
  useEffect(() => {
    if (!isSaved) return undefined;
    return onceRested(pictures, "main", REST_MS, () => setRested(revision));
  }, [revision, isSaved, pictures]);
  const params = { path: { sheet_id: id } };
  const shared = {
    enabled: rested > 0,
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: keepPreviousData,
  };
  const lost = useQuery({
    ...shared,
    queryKey: ["lost", id, rested],
    queryFn: ({ signal }) =>
      answered(client.GET("/api/sheets/{sheet_id}/lost", { params, signal })),
  });
  const print = useQuery({
    ...shared,
    queryKey: ["print-report", id, rested],
    // After the other: two slow figures at once would only delay both.
    enabled: rested > 0 && lost.isSuccess && !lost.isPlaceholderData,
    queryFn: ({ signal }) =>
      answered(client.GET("/api/sheets/{sheet_id}/print-report", { params, signal })),
  });
  const isFresh = lost.data?.revision === revision && print.data?.revision === revision;
  return { lost: lost.data, reports: print.data?.reports, isFresh, highlight, setHighlight };
}

export type Judging = ReturnType<typeof useJudging>;

/** The worst of all plates. */
export interface Summary {
  thinnest: number | null;
  narrowest: number | null;
  specks: number;
  precision: number;
  isGrey: boolean;
}

export function summarised(reports: PrintReport[]): Summary {
  const least = (values: (number | null | undefined)[]) => {
    const known = values.filter((value) => value != null);
    return known.length > 0 ? Math.min(...known) : null;
  };
  return {
    thinnest: least(reports.map((report) => report.thinnest_mm)),
    narrowest: least(reports.map((report) => report.narrowest_mm)),
    specks: reports.reduce((sum, report) => sum + report.specks, 0),
    precision: Math.max(0, ...reports.map((report) => report.precision_mm)),
    isGrey: reports.length > 0 && reports.every((report) => report.is_grey),
  };
}

/** Where on the sheet a highlight is, of all plates. */
export function spotsOf(reports: PrintReport[], highlight: Highlight): Spot[] {
  const key = { thin: "thin_spots", narrow: "narrow_spots", specks: "speck_spots" } as const;
  if (highlight === "lost") return [];
  return reports.flatMap((report) => report[key[highlight]]);
}
