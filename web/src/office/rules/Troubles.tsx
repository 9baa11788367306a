import { Button, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { ulid } from "ulid";
import { useDraft } from "../../draft/draft";
import { useHas } from "../../session/session";
import type { Settings, TroubleKind, TroubleNode } from "../../types";
import { Empty } from "../../ui/Empty";
import { PageHead } from "../../ui/PageHead";
import { SideDrawer } from "../../ui/SideDrawer";
import { useQuestion } from "../commands";
import drawer from "../Drawer.module.css";
import { Answer, Failure, useCommands, useSettings } from "../queries";
import { changeOf } from "../settings";
import css from "./Troubles.module.css";

/** What may stand below what. */
const below: Record<TroubleKind, TroubleKind[]> = { trouble: ["trouble", "cause", "remedy"], cause: ["cause", "remedy"], remedy: ["remedy"] };
const words = { trouble: "troubles.add", cause: "troubles.addCause", remedy: "troubles.addRemedy" } as const;

/** The company's tree of troubles, causes and remedies. */
export default function Troubles() {
  const { t } = useTranslation();
  return (
    <main className="review">
      <PageHead title={t("troubles.title")} hint={t("troubles.hint")} />
      <Answer query={useSettings()}>{(settings) => <Shown settings={settings} />}</Answer>
    </main>
  );
}

interface Editing {
  /** what is changed; none: it is new */
  node?: TroubleNode;
  parent?: TroubleNode;
}

function Shown({ settings }: { settings: Settings }) {
  const { t } = useTranslation();
  const may = useHas("administrator");
  const commands = useCommands();
  const [editing, setEditing] = useState<Editing>();
  const { tree = [], intake = false } = settings.troubles;
  const set = (to: { tree?: TroubleNode[]; intake?: boolean }, then?: () => void) =>
    commands.mutate([changeOf(settings, { troubles: to })], { onSuccess: then });
  const lines = (parent: string | undefined, depth: number): React.ReactNode =>
    tree
      .filter((n) => (n.parent ?? "") === (parent ?? ""))
      .map((n) => (
        <li key={n.id}>
          <div className="line" style={{ paddingLeft: depth * 24 }}>
            <span className={`grow${n.retired ? " quiet" : ""}`}>
              {n.text} <span className="small quiet">{[t(`trouble.${n.kind}`), n.retired && t("troubles.retired")].filter(Boolean).join(" · ")}</span>
            </span>
            {may && (
              <>
                <button type="button" className="link small" aria-label={t("troubles.below", { text: n.text })} onClick={() => setEditing({ parent: n })}>
                  {t("orderPage.add")}
                </button>
                <button type="button" className="link small" aria-label={t("troubles.change", { text: n.text })} onClick={() => setEditing({ node: n })}>
                  {t("people.change")}
                </button>
              </>
            )}
          </div>
          <ul className={css.tree}>{lines(n.id, depth + 1)}</ul>
        </li>
      ));
  return (
    <>
      {!may && <p className="quiet">{t("rules.administrator")}</p>}
      <p>
        <label>
          <input type="checkbox" checked={intake} disabled={!may || commands.isPending} onChange={(e) => set({ intake: e.target.checked || undefined })} />{" "}
          {t("troubles.intake")}
        </label>
      </p>
      <p className="small quiet">
        {t("troubles.finish")} <Link to="/office/setup/ends">{t("rules.title")}</Link>.
      </p>
      {tree.length === 0 && <Empty>{t("troubles.empty")}</Empty>}
      <ul className={css.tree}>{lines(undefined, 0)}</ul>
      {may && (
        <Button variant="outlined" onClick={() => setEditing({})}>
          {t("troubles.add")}
        </Button>
      )}
      <Failure error={commands.error} />
      {editing && (
        <Edit {...editing} tree={tree} onSave={(to, then) => set({ tree: to }, then)} busy={commands.isPending} onClose={() => setEditing(undefined)} />
      )}
    </>
  );
}

interface EditProps extends Editing {
  tree: TroubleNode[];
  busy: boolean;
  onSave: (to: TroubleNode[], then: () => void) => void;
  onClose: () => void;
}

function Edit({ node, parent, tree, busy, onSave, onClose }: EditProps) {
  const { t } = useTranslation();
  const machines = useQuestion("/api/office/kinds", {}).data ?? [];
  const draft = useDraft(`trouble ${node?.id ?? `below ${parent?.id ?? ""}`}`, {
    text: node?.text ?? "",
    kind: node?.kind ?? (parent ? (below[parent.kind][1] ?? below[parent.kind][0]) : ("trouble" as TroubleKind)),
    assets: node?.assets ?? [],
  });
  const { text, kind, assets } = draft.value;
  const [fresh] = useState(() => ulid().toLowerCase()); // the same at each press
  const done = () => {
    draft.clear();
    onClose();
  };
  const save = (change: Partial<TroubleNode> = {}) => {
    const is = {
      ...node,
      id: node?.id ?? fresh,
      parent: node?.parent ?? parent?.id,
      kind,
      text: text.trim(),
      assets: assets.length > 0 ? assets : undefined,
      ...change,
    };
    onSave(node ? tree.map((n) => (n.id === node.id ? is : n)) : [...tree, is], done);
  };
  const title = node ? t("troubles.change", { text: node.text }) : parent ? t("troubles.below", { text: parent.text }) : t("troubles.add");
  return (
    <SideDrawer title={title} draft={draft} onClose={onClose}>
      <form
        className={drawer.form}
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        {!node && parent && (
          <TextField select label={t("troubles.kind")} value={kind} onChange={(e) => draft.change({ kind: e.target.value as TroubleKind })}>
            {below[parent.kind].map((k) => (
              <MenuItem key={k} value={k}>
                {t(words[k])}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          label={t("troubles.text")}
          value={text}
          autoFocus
          onChange={(e) => draft.change({ text: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
        />
        <TextField
          select
          label={t("troubles.machines")}
          value={assets}
          slotProps={{ select: { multiple: true } }}
          onChange={(e) => draft.change({ assets: e.target.value as unknown as string[] })}
        >
          {machines.map((m) => (
            <MenuItem key={m.id} value={m.id}>
              {m.kind.name}
            </MenuItem>
          ))}
        </TextField>
        <Button type="submit" variant="contained" disabled={!text.trim() || busy}>
          {t("records.save")}
        </Button>
        {node && (
          <Button disabled={busy} onClick={() => save({ retired: node.retired ? undefined : true })}>
            {t(node.retired ? "troubles.unretire" : "troubles.retire", { text: node.text })}
          </Button>
        )}
      </form>
    </SideDrawer>
  );
}
