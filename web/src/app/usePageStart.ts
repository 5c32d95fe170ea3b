import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

const START = "[data-page-start]";

/** After a change of page the focus is where the page begins, as soon as that is there. */
export function usePageStart() {
  const { pathname } = useLocation();
  const first = useRef(pathname);
  useEffect(() => {
    if (first.current === pathname) return undefined;
    first.current = "";
    const observer = new MutationObserver(() => begin());
    function begin(): boolean {
      const start = document.querySelector<HTMLElement>(START);
      if (!start) return false;
      observer.disconnect();
      // Whatever took the focus first, such as a field that asks for it, keeps it.
      if (document.activeElement === document.body) start.focus({ preventScroll: true });
      return true;
    }
    if (!begin()) observer.observe(document.body, { childList: true, subtree: true });
    return () => observer.disconnect();
  }, [pathname]);
}
