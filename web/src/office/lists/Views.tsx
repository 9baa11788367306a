import { Button, ListSubheader, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { ChoiceInput, SaveButton, TextInput } from "../../form/fields";
import { Form, useKeptForm } from "../../form/form";
import { useMe } from "../../session/session";
import type { SavedView } from "../../types";
import { SideDrawer } from "../../ui/SideDrawer";
import { Failure, useCommands } from "../queries";
import { type Asking, queryOf } from "./address";
import css from "./Lists.module.css";
import { useViews } from "./queries";
import type { ListName } from "./words";

/** Views that are kept of a list: one's own, and what others share. */
export function Views({ list, asked }: { list: ListName; asked: Asking }) {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const all = (useViews().data ?? []).filter((v) => v.view.list === list);
  const [at, setAt] = useState<HTMLElement>();
  const [keeping, setKeeping] = useState(false);
  const now = queryOf({ ...asked, page: 0 }).toString();
  const current = all.find((v) => v.view.query === now);
  const go = (v: SavedView) => {
    setAt(undefined);
    navigate(`/office/lists/${list}?${v.view.query}`);
  };
  const section = (title: string, views: SavedView[]) =>
    views.length > 0 && [
      <ListSubheader key={title}>{title}</ListSubheader>,
      ...views.map((v) => (
        <MenuItem key={v.id} selected={v === current} onClick={() => go(v)}>
          {v.view.name}
          {!v.own && <span className={`small quiet ${css.owner}`}>{v.name}</span>}
        </MenuItem>
      )),
    ];
  return (
    <>
      <Button onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu">
        {current ? t("list.view", { name: current.view.name }) : t("list.views")}
      </Button>
      {at && (
        <Menu open anchorEl={at} onClose={() => setAt(undefined)}>
          {section(
            t("list.own"),
            all.filter((v) => v.own),
          )}
          {section(
            t("list.shared"),
            all.filter((v) => !v.own),
          )}
          <MenuItem
            onClick={() => {
              setAt(undefined);
              setKeeping(true);
            }}
          >
            {t(current?.own ? "list.change" : "list.keep")}
          </MenuItem>
        </Menu>
      )}
      {keeping && <Keep list={list} query={now} own={current?.own ? current : undefined} onClose={() => setKeeping(false)} />}
    </>
  );
}

/** Keeps what is asked now under a name, or changes a view of one's own. */
function Keep({ list, query, own, onClose }: { list: ListName; query: string; own?: SavedView; onClose: () => void }) {
  const { t } = useTranslation();
  const commands = useCommands({ form: true });
  const me = useMe();
  const form = useKeptForm(`view ${own?.id ?? list}`, { name: own?.view.name ?? "", seen: own?.view.shared ? "all" : "own" });
  if (!me) return null;
  const done = { onSuccess: onClose };
  const save = ({ name, seen }: { name: string; seen: string }, saved: () => void) => {
    const shared = seen === "all";
    const onSuccess = () => {
      saved();
      onClose();
    };
    if (own) {
      const base = { name: own.view.name, shared: own.view.shared ?? false };
      commands.mutate([{ kind: "record.amended", subject: { type: "listview", id: own.id }, body: { name, shared }, base }], { onSuccess });
      return;
    }
    const body = { name, list, owner: me.id, shared, query };
    commands.mutate([{ kind: "record.created", subject: { type: "listview", id: commands.idOf("view") }, body }], { onSuccess });
  };
  return (
    <SideDrawer title={t(own ? "list.change" : "list.keep")} about={t("list.keepHint")} draft={form} onClose={onClose}>
      <Form form={form} className={css.form} onSave={save}>
        <TextInput name="name" label={t("list.viewName")} required max={80} />
        <ChoiceInput name="seen" label={t("list.seen")} choices={(["own", "all"] as const).map((c) => [c, t(`list.seen.${c}`)])} />
        <Failure error={commands.error} />
        <SaveButton busy={commands.isPending}>{t("list.keepIt")}</SaveButton>
        {own && (
          <Button
            disabled={commands.isPending}
            onClick={() => commands.mutate([{ kind: "record.amended", subject: { type: "listview", id: own.id }, body: { gone: true }, base: {} }], done)}
          >
            {t("list.drop")}
          </Button>
        )}
      </Form>
    </SideDrawer>
  );
}
