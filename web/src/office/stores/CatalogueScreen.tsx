import { Button, MenuItem, TextField } from "@mui/material";
import { type ChangeEvent, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { categoryOf, type Item, nameOf, numberOf } from "../../catalogue/catalogue";
import { May } from "../../session/May";
import { ApiError } from "../../session/session";
import { type Column, DataList } from "../../ui/DataList";
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
  const columns = useColumns((item) => setOpen({ item }));
  if (!catalogue) return <p className="empty">{t("office.loading")}</p>;
  const found = catalogue.find(find, { category, limit: Number.POSITIVE_INFINITY });
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
          <Button href={fileOf("labels.pdf", { parts: picked.map((key) => catalogue.item(key)?.id).join(",") })} target="_blank">
            {t("catalogue.labels", { count: picked.length })}
          </Button>
        )}
        <Files />
      </div>
      <p className="small quiet">{t("catalogue.count", { count: catalogue.items.length })}</p>
      <DataList
        label={t("catalogue.title")}
        lines={found}
        idOf={(i) => i.key}
        columns={columns}
        empty={t("parts.noMatch")}
        picked={picked}
        onPick={setPicked}
        mayPick={(i) => !!i.part}
      />
      {open && <PartForm item={open.item} onClose={() => setOpen(undefined)} />}
    </section>
  );
}

/** What is said of a part or kit. */
function useColumns(onOpen: (item: Item) => void): Column<Item>[] {
  const { t } = useTranslation();
  const currency = useCurrency();
  const amount = (i: Item) => (i.part ?? i.kit)!.price;
  const sold = ({ part }: Item) =>
    [part?.unit, ...(part?.packs ?? []).map((p) => t("catalogue.pack", { name: p.name, size: p.size }))].filter(Boolean).join(" · ");
  return [
    { id: "name", title: t("part.name"), part: 3, value: nameOf, show: (i) => <Named item={i} onOpen={onOpen} /> },
    { id: "number", title: t("part.number"), width: 120, value: numberOf },
    { id: "category", title: t("parts.category"), part: 1.2, value: categoryOf },
    { id: "unit", title: t("part.unit"), part: 1.2, value: sold },
    { id: "serial", title: t("catalogue.serials"), part: 1, value: ({ part }) => (part?.serial ? t("catalogue.serial") : "") },
    { id: "price", title: t("part.price"), width: 120, number: true, value: (i) => Number(amount(i)), show: (i) => price(amount(i), currency) },
  ];
}

function Named({ item: i, onOpen }: { item: Item; onOpen: (item: Item) => void }) {
  const { t } = useTranslation();
  if (i.part) {
    return (
      <button type="button" className="link" onClick={() => onOpen(i)}>
        {nameOf(i)}
      </button>
    );
  }
  return (
    <span>
      {nameOf(i)} <Tag kind="good">{t("sheet.kit")}</Tag>
      <span className="small quiet block">{i.kit?.parts.map((p) => `${p.quantity} × ${p.part}`).join(", ")}</span>
    </span>
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
