import { Button, Checkbox, MenuItem, TextField } from "@mui/material";
import { type ChangeEvent, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { categoryOf, type Item, nameOf, numberOf } from "../../catalogue/catalogue";
import { May } from "../../session/May";
import { ApiError } from "../../session/session";
import { Empty } from "../../ui/Empty";
import { price } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { sentence, useCurrency } from "../queries";
import { PartForm } from "./PartForm";
import { fileOf, useCatalogue, useImport } from "./queries";

/** The catalogue: found, changed, printed as labels, read from and written to files. */
export function CatalogueScreen() {
  const { t } = useTranslation();
  const catalogue = useCatalogue();
  const [find, setFind] = useState("");
  const [category, setCategory] = useState("");
  const [picked, setPicked] = useState<string[]>([]);
  const [open, setOpen] = useState<{ item?: Item }>();
  if (!catalogue) return <p className="empty">{t("office.loading")}</p>;
  const found = catalogue.find(find, { category });
  return (
    <section>
      <div className="stores-bar">
        <TextField label={t("parts.find")} value={find} autoFocus onChange={(e) => setFind(e.target.value)} slotProps={{ htmlInput: { type: "search" } }} />
        <TextField select label={t("parts.category")} value={category} onChange={(e) => setCategory(e.target.value)}>
          <MenuItem value="">{t("parts.allCategories")}</MenuItem>
          {catalogue.categories.map((c) => (
            <MenuItem key={c} value={c}>
              {c}
            </MenuItem>
          ))}
        </TextField>
        <May right="record.created part">
          <Button variant="contained" onClick={() => setOpen({})}>
            {t("catalogue.add")}
          </Button>
        </May>
        {picked.length > 0 && (
          <Button href={fileOf("labels.pdf", { parts: picked.join(",") })} target="_blank">
            {t("catalogue.labels", { count: picked.length })}
          </Button>
        )}
        <Files />
      </div>
      <p className="small quiet">{t("catalogue.count", { count: catalogue.items.length })}</p>
      {found.length === 0 && <Empty>{t("parts.noMatch")}</Empty>}
      <table className="table">
        <tbody>
          {found.map((i) => (
            <Row
              key={i.key}
              item={i}
              picked={picked.includes(i.id)}
              onPick={() => setPicked(picked.includes(i.id) ? picked.filter((p) => p !== i.id) : [...picked, i.id])}
              onOpen={() => setOpen({ item: i })}
            />
          ))}
        </tbody>
      </table>
      {open && <PartForm item={open.item} onClose={() => setOpen(undefined)} />}
    </section>
  );
}

function Row({ item: i, picked, onPick, onOpen }: { item: Item; picked: boolean; onPick: () => void; onOpen: () => void }) {
  const { t } = useTranslation();
  const currency = useCurrency();
  const of = i.part;
  return (
    <tr>
      <td className="catalogue-pick">
        {of && <Checkbox size="small" checked={picked} onChange={onPick} slotProps={{ input: { "aria-label": t("catalogue.label", { part: of.name }) } }} />}
      </td>
      <td>
        {of ? (
          <button type="button" className="link" onClick={onOpen}>
            {nameOf(i)}
          </button>
        ) : (
          <>
            {nameOf(i)} <Tag kind="good">{t("sheet.kit")}</Tag>
          </>
        )}{" "}
        <span className="small quiet">{numberOf(i)}</span>
        {i.kit && <span className="small quiet block">{i.kit.parts.map((p) => `${p.quantity} × ${p.part}`).join(", ")}</span>}
      </td>
      <td className="small quiet">{categoryOf(i)}</td>
      <td className="small">{[of?.unit, ...(of?.packs ?? []).map((p) => t("catalogue.pack", { name: p.name, size: p.size }))].filter(Boolean).join(" · ")}</td>
      <td className="small">{of?.serial && t("catalogue.serial")}</td>
      <td className="num nowrap">{price((of ?? i.kit)!.price, currency)}</td>
    </tr>
  );
}

function Files() {
  const { t } = useTranslation();
  const input = useRef<HTMLInputElement>(null);
  const reading = useImport();
  const read = (e: ChangeEvent<HTMLInputElement>) => {
    const file = e.target.files?.[0];
    e.target.value = "";
    if (file) reading.mutate(file);
  };
  const out = reading.data;
  return (
    <>
      <May right="record.created part">
        <Button onClick={() => input.current?.click()}>{t("catalogue.import")}</Button>
      </May>
      <input ref={input} hidden type="file" accept=".csv" onChange={read} aria-label={t("catalogue.import")} />
      <a className="link small" href={fileOf("parts.csv")}>
        {t("catalogue.export")}
      </a>
      <div role="status" className="catalogue-read">
        {reading.isError && (
          <Tag kind="bad">{reading.error instanceof ApiError && reading.error.problem.status === 404 ? t("catalogue.fileName") : sentence(reading.error)}</Tag>
        )}
        {out && out.problems.length === 0 && <Tag kind="good">{t("catalogue.read", { created: out.created, changed: out.changed, same: out.same })}</Tag>}
        {out && out.problems.length > 0 && (
          <>
            <Tag kind="bad">{t("catalogue.nothingRead", { count: out.problems.length })}</Tag>
            <ul className="small">
              {out.problems.slice(0, 20).map((p) => (
                <li key={p}>{p}</li>
              ))}
            </ul>
          </>
        )}
      </div>
    </>
  );
}
