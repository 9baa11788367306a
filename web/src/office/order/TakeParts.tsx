import { Button, MenuItem, TextField } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { get, sendFile } from "../../session/api";
import type { Code, Listed, Need, OrderPage } from "../../types";
import { decimal, isPositive, typedNumber } from "../../ui/decimal";
import { PickFile } from "../../ui/PickFile";
import { SideDrawer } from "../../ui/SideDrawer";
import { say } from "../../words/i18n";
import { useQuestion } from "../commands";
import { Failure, useCommands } from "../queries";
import css from "./Order.module.css";

/** Plans the parts of a list: of a file, or of an earlier order at the same place. */
export function TakeParts({ page, onClose }: { page: OrderPage; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const draft = useDraft(`parts for ${page.line.id}`, { lines: [] as Listed[], problems: [] as Code[] });
  const { lines, problems } = draft.value;
  const work = useQuestion("/api/office/work/:type/:id", { type: "site", id: page.order.site }).data;
  const earlier = [...(work?.past ?? []), ...(work?.open ?? [])].filter((o) => o.id !== page.line.id);
  const file = useMutation({ mutationFn: (f: File) => sendFile("/api/office/partslist", {}, f), onSuccess: draft.change });
  const order = useMutation({
    mutationFn: (id: string) => get("/api/office/orders/:id", { id }),
    onSuccess: (from) => draft.change({ lines: partsOf(from), problems: [] }),
  });
  const set = (at: number, line?: Listed) => draft.change({ lines: line ? lines.with(at, line) : lines.toSpliced(at, 1) });
  const add = () =>
    commands.mutate([{ kind: "work.needs_planned", subject: { type: "workorder", id: page.line.id }, body: { needs: withLines(page.order.needs, lines) } }], {
      onSuccess: () => {
        draft.clear();
        onClose();
      },
    });
  return (
    <SideDrawer title={t("takeParts.title")} about={t("visit.order", { number: page.order.number })} draft={draft} onClose={onClose}>
      <div className={css.form}>
        <PickFile label={t("takeParts.file")} accept=".csv,text/csv,text/plain" disabled={file.isPending} onFile={file.mutate} />
        <p className="small quiet">{t("takeParts.hint")}</p>
        {earlier.length > 0 && (
          <TextField select label={t("takeParts.order")} value="" disabled={order.isPending} onChange={(e) => order.mutate(e.target.value)}>
            {earlier.map((o) => (
              <MenuItem key={o.id} value={o.id}>
                {o.number} {o.problem}
              </MenuItem>
            ))}
          </TextField>
        )}
        <Failure error={file.error ?? order.error} />
        {order.isSuccess && lines.length === 0 && <p className="quiet">{t("takeParts.none")}</p>}
        {problems.map((p) => (
          <p key={JSON.stringify(p.args)} className="small warn-text" role="alert">
            {say(p)}
          </p>
        ))}
        {lines.map((l, i) => (
          <p className="line" key={l.part}>
            <span className="grow">
              {l.name} <span className="small quiet">{l.number}</span>
            </span>
            <TextField
              className="take-quantity"
              value={l.quantity}
              error={!isPositive(l.quantity)}
              onChange={(e) => set(i, { ...l, quantity: e.target.value })}
              slotProps={{ htmlInput: { inputMode: "decimal", "aria-label": t("takeParts.quantity", { part: l.name }) } }}
            />
            <button type="button" className="link small" aria-label={t("ownLists.drop", { text: l.name })} onClick={() => set(i)}>
              {t("parts.drop")}
            </button>
          </p>
        ))}
        <Failure error={commands.error} />
        <Button variant="contained" disabled={lines.length === 0 || !lines.every((l) => isPositive(l.quantity)) || commands.isPending} onClick={add}>
          {t("takeParts.add", { count: lines.length })}
        </Button>
      </div>
    </SideDrawer>
  );
}

/** The parts that were planned for or used on an order, each once: as many as were used, or else planned. */
function partsOf(order: OrderPage): Listed[] {
  const out = new Map<string, Listed>();
  for (const p of order.visits.flatMap((v) => v.parts).filter((p) => !p.struck)) {
    const have = out.get(p.part);
    const quantity = have ? decimal(have.quantity).plus(decimal(p.quantity)).toString() : p.quantity;
    out.set(p.part, { part: p.part, number: p.number, name: p.name, unit: p.unit, quantity });
  }
  for (const n of order.needs) if (!out.has(n.part)) out.set(n.part, { part: n.part, number: "", name: n.name, unit: n.unit, quantity: n.quantity });
  return [...out.values()];
}

/** What is planned by the office, with the lines of a list. */
function withLines(needs: Need[] | undefined, lines: Listed[]): Need[] {
  const own = (needs ?? []).filter((n) => !n.request);
  const more = (n: Need) => lines.find((l) => l.part === n.part);
  return [
    ...own.map((n) =>
      more(n)
        ? {
            ...n,
            quantity: decimal(n.quantity)
              .plus(decimal(typedNumber(more(n)!.quantity)))
              .toString(),
          }
        : n,
    ),
    ...lines.filter((l) => !own.some((n) => n.part === l.part)).map((l) => ({ part: l.part, quantity: typedNumber(l.quantity) })),
  ];
}
