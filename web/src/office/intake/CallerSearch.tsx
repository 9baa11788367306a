import { TextField } from "@mui/material";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { rightTo, useMay } from "../../session/session";
import type { FoundRecord } from "../../types";
import { Failure, useFind } from "../queries";
import { type Call, made } from "./call";
import css from "./Intake.module.css";

const isPhone = (text: string) => /^[\d\s+()./-]{6,}$/.test(text);

/** Finds who calls by a name, a telephone number, a site or machine, or work that is open for the same; or begins with somebody new. */
export function CallerSearch({ onPick }: { onPick: (call: Partial<Call>) => void }) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  const [entered, setEntered] = useState(""); // Enter was pressed for it, and what it finds is not here yet
  const typed = text.trim();
  const enough = typed.length > 1;
  const query = useFind(enough ? typed : "");
  const hits = enough ? (query.data?.hits ?? []) : [];
  const of = (type: string) => hits.filter((h) => h.type === type);
  const mayMake = useMay(rightTo("record.created", "customer"));
  const pick = (h: FoundRecord) => onPick({ caller: `${h.type}/${h.id}` });
  const someoneNew = () => onPick({ caller: made, site: made, ...(isPhone(typed) ? { phone: typed } : { name: typed }) });
  const first = of("customer")[0] ?? of("site")[0] ?? of("asset")[0];
  const current = query.isSuccess && !query.isPlaceholderData;
  const choose = () => {
    if (first) pick(first);
    else if (mayMake) someoneNew();
  };
  useEffect(() => {
    if (entered && current && entered === typed) choose();
  });
  return (
    <>
      <TextField
        label={t("intake.find")}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setEntered("");
        }}
        onKeyDown={(e) => {
          if (e.key !== "Enter" || !enough) return;
          e.preventDefault();
          if (current) choose();
          else setEntered(typed);
        }}
        autoFocus
        slotProps={{ htmlInput: { autoComplete: "off" } }}
      />
      {!enough && <p className="small quiet">{t("intake.hint")}</p>}
      <Failure error={query.error} />
      {enough && current && hits.length === 0 && <p className="empty">{t("intake.noMatch")}</p>}
      <ul>
        {of("customer").map((h) => (
          <li key={h.id}>
            <button type="button" className="choice" onClick={() => pick(h)}>
              <span>
                <span className="strong block">{h.title}</span>
                <span className="small quiet">{h.detail}</span>
              </span>
              {h.slip && <span className="tiny quiet">{t("bar.slip")}</span>}
            </button>
          </li>
        ))}
      </ul>
      {(["site", "asset"] as const).map(
        (type) =>
          of(type).length > 0 && (
            <section key={type} className={css.more}>
              <h2>{t(`bar.type.${type}`)}</h2>
              <ul>
                {of(type).map((h) => (
                  <li key={h.id} className="line">
                    <button type="button" className="link" onClick={() => pick(h)}>
                      {h.title}
                    </button>
                    <span className="small quiet grow">{h.detail}</span>
                  </li>
                ))}
              </ul>
            </section>
          ),
      )}
      {of("workorder").length > 0 && (
        <section className={css.more}>
          <h2>{t("bar.type.workorder")}</h2>
          <ul>
            {of("workorder").map((h) => (
              <li key={h.id} className="line">
                <Link to={`/office/orders/${h.id}`}>{h.title}</Link>
                <span className="small quiet grow">{h.detail}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {enough && mayMake && (
        <p>
          <button type="button" className="link" onClick={someoneNew}>
            {t("intake.newCustomer", { text: typed })}
          </button>
        </p>
      )}
    </>
  );
}
