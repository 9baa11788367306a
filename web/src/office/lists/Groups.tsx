import { useTranslation } from "react-i18next";
import type { ListColumn } from "../../types";
import { Empty } from "../../ui/Empty";
import { Answer } from "../queries";
import { type Asking, withFilter } from "./address";
import { shown } from "./Lines";
import css from "./Lists.module.css";
import { useGroups } from "./queries";
import { type ListName, useWords } from "./words";

interface Props {
  list: ListName;
  columns: ListColumn[];
  asked: Asking;
  onAsk: (change: Partial<Asking>) => void;
}

/** The groups of the lines by a column, with counts and sums; a press on one shows its lines alone. */
export function Groups({ list, columns, asked, onAsk }: Props) {
  const { t } = useTranslation();
  const words = useWords(list);
  const chosen = asked.where.find((f) => f.column === asked.by)?.in;
  const query = useGroups(list, { ...asked, where: asked.where.filter((f) => f.column !== asked.by) }, asked.by);
  const column = columns.find((c) => c.name === asked.by);
  if (!column) return null;
  const only = (value?: string) => onAsk({ where: withFilter(asked.where, { column: asked.by, in: value === undefined ? undefined : [value] }) });
  const day = column.kind === "moment" ? { ...column, kind: "day" as const } : column;
  return (
    <nav className={css.groups} aria-label={t("list.groupedBy", { name: words.title(asked.by) })}>
      <Answer query={query}>
        {({ groups, cut }) => (
          <>
            <button type="button" className={css.group} aria-pressed={!chosen} onClick={() => only()}>
              <span className={css.grow}>{t("list.allGroups")}</span>
              <b>{groups.reduce((n, g) => n + g.count, 0)}</b>
            </button>
            {groups.map((g) => (
              <button type="button" key={g.value} className={css.group} aria-pressed={chosen?.includes(g.value) ?? false} onClick={() => only(g.value)}>
                <span className={css.grow}>
                  {words.value(day, g.name) || t("list.empty")}
                  <span className="tiny quiet block">
                    {columns
                      .filter((c) => c.sum && Number(g.sums[c.name]) > 0)
                      .map((c) => `${words.title(c.name)} ${shown(words, c, g.sums[c.name])}`)
                      .join(" · ")}
                  </span>
                </span>
                <b>{g.count}</b>
              </button>
            ))}
            {cut && <p className="small">{t("list.cut", { count: groups.length })}</p>}
            {groups.length === 0 && <Empty>{t("list.none")}</Empty>}
          </>
        )}
      </Answer>
    </nav>
  );
}
