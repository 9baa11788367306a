import { Button } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { ApiError } from "../session/session";
import type { FeedMade, FeedState } from "../types";
import { say } from "../words/i18n";
import { shortDate } from "./format";
import { Tag } from "./Glyph";

interface Props {
  look: () => Promise<FeedState>;
  make: () => Promise<FeedMade>;
  end: () => Promise<unknown>;
}

/** A secret address by which other calendars read somebody's plan: it is shown once, when it is made. */
export function CalendarFeed({ look, make, end }: Props) {
  const { t } = useTranslation();
  const [state, setState] = useState<FeedState>();
  const [address, setAddress] = useState("");
  const [failed, setFailed] = useState("");
  const act = (what: () => Promise<unknown>) => {
    setFailed("");
    what().catch((e) => setFailed(say(e instanceof ApiError ? e.problem : { code: "unreadable" })));
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is looked up once
  useEffect(() => act(async () => setState(await look())), []);
  const renew = () =>
    act(async () => {
      const made = await make();
      setAddress(new URL(made.path, location.href).href);
      setState({ made: new Date().toISOString() });
    });
  const stop = () =>
    act(async () => {
      await end();
      setAddress("");
      setState({});
    });
  return (
    <>
      <p className="small quiet">{t("feed.hint")}</p>
      {address && (
        <p className="small" role="status">
          <b className="address">{address}</b> {t("feed.once")}{" "}
          {"clipboard" in navigator && (
            <button type="button" className="link" onClick={() => act(() => navigator.clipboard.writeText(address))}>
              {t("feed.copy")}
            </button>
          )}
        </p>
      )}
      {state?.made && !address && <p className="small">{t("feed.since", { day: shortDate(state.made) })}</p>}
      {state && (
        <p className="line">
          <Button onClick={renew}>{t(state.made ? "feed.renew" : "feed.make")}</Button>
          {state.made && <Button onClick={stop}>{t("feed.end")}</Button>}
        </p>
      )}
      {failed && (
        <p role="alert">
          <Tag kind="bad">{failed}</Tag>
        </p>
      )}
    </>
  );
}
