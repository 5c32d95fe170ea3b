import { useEffect } from "react";

/** Calls came as one comes back to the page, from elsewhere or by the browser's history. */
export function useComingBack(came: () => void): void {
  useEffect(() => {
    // Pages that one goes back to may stand as they were left, without being opened again.
    const restored = (event: PageTransitionEvent) => {
      if (event.persisted) came();
    };
    window.addEventListener("focus", came);
    window.addEventListener("pageshow", restored);
    return () => {
      window.removeEventListener("focus", came);
      window.removeEventListener("pageshow", restored);
    };
  }, [came]);
}
