import { Suspense } from "react";
import { screen } from "../../ui/screen";

const FoundWork = screen(() => import("../work/FoundWork"));

/** Work that is opened for a customer, at one of their sites. */
export function FoundAt({ at, onClose }: { at: { customer: string; site: string; asset?: string }; onClose: () => void }) {
  return (
    <Suspense fallback={null}>
      <FoundWork at={at} onClose={onClose} />
    </Suspense>
  );
}
