import { Button, TextField } from "@mui/material";
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { useDraftText } from "../../draft/draft";
import { useMay } from "../../session/session";
import type { TalkPage } from "../../types";
import { Said } from "../../ui/Said";
import { Answer, Failure, useCommands, useTalk } from "../queries";

/** What is said about a work order, and saying something. Who has it on screen has read it, for the office. */
export function Conversation({ order }: { order: string }) {
  const { t } = useTranslation();
  const query = useTalk(order);
  return (
    <section className="sec" aria-label={t("talk.title")}>
      <h2>{t("talk.list")}</h2>
      <Answer query={query}>{(page) => <Shown order={order} page={page} />}</Answer>
    </section>
  );
}

function Shown({ order, page }: { order: string; page: TalkPage }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const [text, type] = useDraftText(`said about ${order}`);
  const may = useMay("talk.said");
  const subject = { type: "talk", id: order };
  const last = page.talk.said.at(-1)?.entry;
  const told = useRef("");
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each that came last
  useEffect(() => {
    if (!may || page.unread === 0 || !last || told.current === last) return;
    told.current = last;
    commands.mutate([{ kind: "talk.read", subject, body: { entry: last, office: true } }]);
  }, [last, page.unread]);
  return (
    <>
      <Said talk={page.talk} names={page.names} mine={(s) => s.office === true} />
      {may && (
        <form
          className="attention-handle"
          onSubmit={(e) => {
            e.preventDefault();
            commands.mutate([{ kind: "talk.said", subject, body: { text: text.trim(), office: true } }], { onSuccess: () => type("") });
          }}
        >
          <TextField label={t("talk.text")} value={text} onChange={(e) => type(e.target.value)} multiline slotProps={{ htmlInput: { maxLength: 2000 } }} />
          <Button type="submit" variant="contained" disabled={!text.trim() || commands.isPending}>
            {t("tell.send")}
          </Button>
          <Failure error={commands.error} />
        </form>
      )}
    </>
  );
}
