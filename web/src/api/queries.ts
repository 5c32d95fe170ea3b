import { useQuery } from "@tanstack/react-query";
import { answered, client } from "./client";

export const RECIPES = ["recipes"];
export const PHOTOS = ["photos"];

/** Every recipe of the book. */
export function useRecipes(enabled = true) {
  return useQuery({
    queryKey: RECIPES,
    queryFn: () => answered(client.GET("/api/recipes")),
    enabled,
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
