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

/** Every photo on the shelf, newest first. */
export function usePhotos(enabled = true) {
  return useQuery({
    queryKey: PHOTOS,
    queryFn: () => answered(client.GET("/api/photos")),
    enabled,
  });
}
