import { useSyncExternalStore } from "react";

/** Whether a media query holds now. */
export function useMedia(query: string): boolean {
  return useSyncExternalStore(
    (told) => {
      const list = window.matchMedia(query);
      list.addEventListener("change", told);
      return () => list.removeEventListener("change", told);
    },
    () => window.matchMedia(query).matches,
  );
}
