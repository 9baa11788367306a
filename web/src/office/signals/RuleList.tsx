/** What machines are judged by when they report, by their kind. */
import { Button } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { rightTo, useMay } from "../../session/session";
import type { SignalKind, SignalRule } from "../../types";
import { EditRule } from "./EditRule";
import { ruleWords } from "./ruleWords";
import css from "./Signals.module.css";

export function RuleList({ kinds }: { kinds: SignalKind[] }) {
  const { t } = useTranslation();
  const may = useMay(rightTo("record.amended", "signalrules"));
  const [editing, setEditing] = useState<{ kind: SignalKind; rule?: SignalRule }>();
  return (
    <section className="sec" aria-label={t("signals.rules")}>
      <h2>{t("signals.rules")}</h2>
      {kinds.map((k) => (
        <div key={k.id}>
          <div className={css.kind}>
            <h3>{k.name}</h3>
            {k.rules.length === 0 && <span className="small quiet">{t("signals.noRules")}</span>}
            {may && k.points.length > 0 && (
              <Button size="small" onClick={() => setEditing({ kind: k })} aria-label={`${t("signals.newRule")}: ${k.name}`}>
                {t("signals.newRule")}
              </Button>
            )}
          </div>
          {k.rules.map((r) => (
            <div className="line" key={r.id}>
              <span className="grow">
                <span className="strong">{r.text}</span>
                <span className="small quiet block">{ruleWords(r, k.points)}</span>
              </span>
              {may && (
                <button
                  type="button"
                  className="link small"
                  onClick={() => setEditing({ kind: k, rule: r })}
                  aria-label={`${t("signals.changeRule")}: ${r.text}`}
                >
                  {t("signals.changeRule")}
                </button>
              )}
            </div>
          ))}
        </div>
      ))}
      {editing && <EditRule kind={editing.kind} rule={editing.rule} onClose={() => setEditing(undefined)} />}
    </section>
  );
}
