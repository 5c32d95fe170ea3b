import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { answered, client, type SheetRecord } from "./client";
import { newestSheets } from "./newest";

export const SHEETS = ["sheets"];

export const RECIPES = ["recipes"];
export const PHOTOS = ["photos"];

/** How to ask for every recipe of the book. */
export const recipesAsked = queryOptions({
  queryKey: RECIPES,
  queryFn: () => answered(client.GET("/api/recipes")),
});

/** Every recipe of the book. */
export function useRecipes(enabled = true) {
  return useQuery({ ...recipesAsked, enabled });
}

/** How to ask which recipes should suit a photo; what is known of it stays true. */
export function guessesAsked(photoId: string) {
  const path = { photo_id: photoId };
  return queryOptions({
    queryKey: ["guesses", photoId],
    queryFn: () => answered(client.GET("/api/photos/{photo_id}/guesses", { params: { path } })),
  });
}

/** The stages, looks and dials there are; the shelf fetches them before a bench asks. */
export function useCatalogue() {
  return useQuery({
    queryKey: ["catalogue"],
    queryFn: () => answered(client.GET("/api/catalogue")),
    staleTime: Infinity,
  });
}

/** Every photo on the shelf, newest first. */
export function usePhotos(enabled = true) {
  return useQuery({
    queryKey: PHOTOS,
    queryFn: () => answered(client.GET("/api/photos")),
    enabled,
  });
}

/** Every sheet on the shelf, last touched first. */
export function useSheets(enabled = true) {
  return useQuery({
    queryKey: SHEETS,
    queryFn: newestSheets,
    enabled,
  });
}

/** What is to be told of a sheet's newest record, so that no list goes on showing an older one. */
export function useNewestKnown() {
  const queries = useQueryClient();
  return useCallback(
    (record: SheetRecord) =>
      void queries.setQueryData<SheetRecord[]>(SHEETS, (all) =>
        all?.map((each) => (each.id === record.id ? record : each)),
      ),
    [queries],
  );
}

export const EDITIONS = ["editions"];

/** Every edition on the shelf, last touched first. */
export function useEditions() {
  return useQuery({
    queryKey: EDITIONS,
    queryFn: () => answered(client.GET("/api/editions")),
  });
}

export const FONTS = ["fonts"];

/** Every font that was brought in. */
export function useFonts() {
  return useQuery({ queryKey: FONTS, queryFn: () => answered(client.GET("/api/fonts")) });
}
