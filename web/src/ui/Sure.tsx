import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Tag } from "./Glyph";

/**
 * Has what is most likely a slip asked for twice: the first press says what is odd, the second is meant. Odd is a sentence, or nothing when all is
 * as usual; when it is another, it is asked anew.
 */
export function useSure(odd: string | undefined): { ask: () => boolean; warning: string | undefined } {
  const [told, setTold] = useState<string>();
  return {
    ask: () => {
      if (!odd || told === odd) return true;
      setTold(odd);
      return false;
    },
    warning: odd && told === odd ? odd : undefined,
  };
}

/** What is odd, once it was asked. */
export function Sure({ warning }: { warning: string | undefined }) {
  const { t } = useTranslation();
  if (!warning) return null;
  return (
    <p role="alert">
      <Tag kind="bad">{`${warning} ${t("sure.again")}`}</Tag>
    </p>
  );
}
