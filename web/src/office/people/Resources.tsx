import { Button, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { ulid } from "ulid";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { rightTo, useMay } from "../../session/session";
import type { PlannedResource } from "../../types";
import { Failure, useCommands } from "../queries";
import css from "./People.module.css";

/** What is booked beside people: a boat, a rig, a bay. */
export function Resources({ list }: { list: PlannedResource[] }) {
  const { t } = useTranslation();
  const may = useMay(rightTo("record.created", "resource"));
  const commands = useCommands();
  const draft = useDraft("new resource", { id: "", name: "", kind: "" });
  const { id, name, kind } = draft.value;
  const add = () => {
    const subject = { type: "resource", id: id || ulid() };
    commands.mutate([{ kind: "record.created", subject, body: { name: name.trim(), kind: kind.trim() } }], { onSuccess: draft.clear });
  };
  const gone = (r: PlannedResource) =>
    commands.mutate([
      { kind: "record.amended", subject: { type: "resource", id: r.id }, body: { gone: !r.resource.gone || null }, base: { gone: r.resource.gone ?? null } },
    ]);
  return (
    <section className="sec" aria-label={t("planned.resources")}>
      <h2>{t("planned.resources")}</h2>
      {list.map((r) => (
        <p className={`line${r.resource.gone ? " struck" : ""}`} key={r.id}>
          <span className="grow">
            <Link className="strong" to={`/office/things/${r.id}`}>
              {r.resource.name}
            </Link>{" "}
            <span className="small quiet">{r.resource.kind}</span>
          </span>
          {may && (
            <button type="button" className="link" onClick={() => gone(r)}>
              {t(r.resource.gone ? "people.back" : "people.gone")}
            </button>
          )}
        </p>
      ))}
      {list.length === 0 && <p className="quiet">{t("planned.noResources")}</p>}
      {may && (
        <div className={css.fields}>
          <TextField
            label={t("planned.resource")}
            value={name}
            onChange={(e) => draft.change({ name: e.target.value, id: id || ulid() })}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
          <TextField
            label={t("planned.resourceKind")}
            value={kind}
            onChange={(e) => draft.change({ kind: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
          <Button variant="outlined" disabled={!name.trim() || commands.isPending} onClick={add}>
            {t("planned.addResource")}
          </Button>
          {name && <ThrowAway draft={draft} />}
        </div>
      )}
      <Failure error={commands.error} />
    </section>
  );
}
