import { Button, TextField } from "@mui/material";
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { useLive } from "../../device/live";
import { useDraftText } from "../../draft/draft";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { Said } from "../../ui/Said";
import { useDevice, useRecord } from "../device";
import { useUnread } from "./talks";

/** The whole conversation. Who opens it has read it. */
export default function TalkDrawer({ order, visit, onClose }: { order: string; visit: string; onClose: () => void }) {
  const { t } = useTranslation();
  const { db, me } = useDevice();
  const record = useRecord();
  const [text, type] = useDraftText(`talk ${order}`);
  const talk = useLive(db, (db) => db.body("talk", order), [order]) ?? { said: [] };
  const names = useLive(db, async (db) => Object.fromEntries((await db.all("person")).map((p) => [p.id, p.body.name])), []) ?? {};
  const unread = useUnread()[order] ?? 0;
  const last = talk.said.at(-1)?.entry;
  const told = useRef("");
  useEffect(() => {
    if (unread === 0 || !last || told.current === last) return;
    told.current = last;
    void record("talk.read", { type: "talk", id: order }, { entry: last });
  }, [unread, last, order, record]);
  const end = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: down to what came last
  useEffect(() => {
    void end.current?.scrollIntoView({ block: "end" });
  }, [last]);
  const say = async () => {
    if (await record("talk.said", { type: "talk", id: order }, { text: text.trim(), visit })) type("");
  };
  return (
    <ChoiceDrawer title={t("talk.title")} tall onClose={onClose}>
      <div className="scroll">
        <Said talk={talk} names={names} mine={(s) => s.person === me.id} />
        <div ref={end} />
      </div>
      <form
        className="form-row"
        onSubmit={(e) => {
          e.preventDefault();
          void say();
        }}
      >
        <TextField
          label={t("talk.text")}
          value={text}
          onChange={(e) => type(e.target.value)}
          multiline
          maxRows={4}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
        />
        <Button type="submit" variant="contained" disabled={!text.trim()}>
          {t("tell.send")}
        </Button>
      </form>
    </ChoiceDrawer>
  );
}
