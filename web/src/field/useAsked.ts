import { useEffect, useRef } from "react";
import { useSearchParams } from "react-router";

/** Opens what the address asks for, once: it is taken out of the address, so that Back does not ask again. */
export function useAsked(param: string, open: () => void) {
  const [params, setParams] = useSearchParams();
  const asked = params.has(param);
  const last = useRef(open);
  last.current = open;
  useEffect(() => {
    if (!asked) return;
    last.current();
    setParams({}, { replace: true });
  }, [asked, setParams]);
}
