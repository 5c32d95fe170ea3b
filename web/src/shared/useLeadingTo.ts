import { useCallback, useEffect, useRef } from "react";
import { useNavigate } from "react-router";

/**
 * Do what leads to another page, and go there: work comes to its address, or to none where it leads
 * nowhere. A second press while it is done does nothing; where one has left meanwhile one stays
 * there. What work throws is thrown.
 */
export function useLeadingTo(): (work: () => Promise<string | null>) => Promise<void> {
  const navigate = useNavigate();
  const isHere = useRef(false);
  const isBusy = useRef(false);
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
    };
  }, []);
  return useCallback(
    async (work) => {
      if (isBusy.current) return;
      isBusy.current = true;
      try {
        const address = await work();
        if (address && isHere.current) void navigate(address);
      } finally {
        isBusy.current = false;
      }
    },
    [navigate],
  );
}
