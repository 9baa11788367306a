import { lazy, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { Series } from "../../types";
import { shortDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { LevelTag } from "../../ui/Level";
import { Trend } from "../../ui/Trend";
import { Answer, useMeasured } from "../queries";

const Chart = lazy(() => import("./Chart"));

/** What was measured on a machine over the years: each point with its last value, one of them as a chart with its limits. */
export function Measured({ asset }: { asset: string }) {
  const { t } = useTranslation();
  const query = useMeasured(asset);
  return (
    <section className="sec" aria-label={t("measured.title")}>
      <h2>{t("measured.title")}</h2>
      <Answer query={query}>{(all) => (all.some((s) => s.values.length > 0) ? <Points all={all} /> : <p className="quiet">{t("measured.none")}</p>)}</Answer>
    </section>
  );
}

function Points({ all }: { all: Series[] }) {
  const { t } = useTranslation();
  const [chosen, setChosen] = useState<string>();
  const worst = all.find((s) => s.values.at(-1)?.level !== "ok" && s.values.length > 1);
  const shown = all.find((s) => s.id === chosen) ?? worst ?? all.find((s) => s.values.length > 1) ?? all[0];
  return (
    <div className="measured">
      <div className="measured-points" role="group" aria-label={t("measured.title")}>
        {all.map((s) => (
          <button type="button" key={s.id} aria-pressed={s.id === shown.id} onClick={() => setChosen(s.id)}>
            <span className="grow">
              {s.name}
              {s.derived && <span className="tiny quiet block">{t("readings.derived")}</span>}
            </span>
            <Trend values={s.values.slice(-8).map((v) => v.value)} limits={s} now />
            <Last series={s} />
          </button>
        ))}
      </div>
      <div>
        <Suspense fallback={null}>
          <Chart series={shown} />
        </Suspense>
        <History series={shown} />
      </div>
    </div>
  );
}

function Last({ series: s }: { series: Series }) {
  const last = s.values.at(-1);
  if (!last) return <span className="end quiet">–</span>;
  return (
    <span className="end nowrap">
      <b>{last.value}</b> {s.unit}
      {last.level !== "ok" && (
        <span className="block">
          <LevelTag level={last.level} />
        </span>
      )}
    </span>
  );
}

const rows = 8;

function History({ series: s }: { series: Series }) {
  const { t } = useTranslation();
  const [all, setAll] = useState(false);
  const list = s.values.toReversed();
  return (
    <>
      <table className="table measured-table">
        <thead>
          <tr>
            <th>{t("measured.when")}</th>
            <th>{s.name}</th>
            {!s.derived && (
              <>
                <th>{t(s.counter ? "measured.moved" : "measured.change")}</th>
                <th>{t("measured.who")}</th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {list.slice(0, all ? undefined : rows).map((v) => (
            <tr key={v.at + v.visit}>
              <td className="nowrap">
                {v.own ? (
                  `${shortDate(v.at)} ${new Date(v.at).getFullYear()}`
                ) : (
                  <Link to={`/office/visits/${v.visit}`}>
                    {shortDate(v.at)} {new Date(v.at).getFullYear()}
                  </Link>
                )}
              </td>
              <td className="nowrap">
                <b>{v.value}</b> {s.unit} {v.as && <span className="small quiet">({v.as})</span>} {v.level !== "ok" && <LevelTag level={v.level} />}
                {v.doubt && <Tag kind="warn">{t(`doubt.${v.doubt}`)}</Tag>}
              </td>
              {!s.derived && (
                <>
                  <td className="quiet">{v.change}</td>
                  <td>{v.own ? <i>{t("measured.own")}</i> : v.person}</td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {!all && list.length > rows && (
        <button type="button" className="link" onClick={() => setAll(true)}>
          {t("measured.all", { count: list.length })}
        </button>
      )}
    </>
  );
}
