import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { useLive } from "../../device/live";
import { newId } from "../../device/record";
import { useDraft } from "../../draft/draft";
import type { FoundHow, Priority } from "../../types";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";
import { useOnce } from "../../ui/useOnce";
import type { Place } from "../customer/directoryIndex";
import { useDirectory } from "../customer/useDirectory";
import { useDevice, useRecord, useSettings } from "../device";
import { type Newcomer, recordsOf } from "./newcomer";
import { WhereAt } from "./WhereAt";

const ways: FoundHow[] = ["seen", "other_asset", "other_person"];
const priorities: Priority[] = ["normal", "soon", "emergency"];

/** What is typed of new work. */
interface Found {
  /** where it is, of what is known; or who is new */
  place?: Place;
  newcomer?: Newcomer;
  /** somebody known was looked for after all: what was typed of the newcomer stays */
  known?: boolean;
  how: FoundHow;
  asset: string;
  who: string;
  problem: string;
  priority: Priority;
  kind: string;
}

interface Props {
  /** where it was found; the person chooses when it is left out */
  at?: { customer: string; site: string; visit?: string; asset?: string };
  onClose: () => void;
}

/** New work that somebody comes upon: opened with or without signal, done at once or left for planning. */
export default function FoundWork({ at, onClose }: Props) {
  const { t } = useTranslation();
  const { db, tell } = useDevice();
  const record = useRecord();
  const navigate = useNavigate();
  const settings = useSettings();
  const draft = useDraft<Found>(`found ${at?.visit ?? at?.asset ?? at?.site ?? ""}`, {
    how: at?.visit ? "seen" : "other_person",
    asset: at?.asset ?? "",
    who: "",
    problem: "",
    priority: "normal",
    kind: "",
  });
  const { place, how, asset, who, problem, priority, kind } = draft.value;
  const newcomer = draft.value.known ? undefined : draft.value.newcomer;
  const index = useDirectory()?.index;
  const site = at?.site ?? place?.site ?? "";
  const customer = at?.customer ?? place?.customer ?? "";
  const here = useLive(db, async (db) => (await db.all("asset")).filter((a) => a.body.site === site && !a.body.parent && !a.body.removed), [site]) ?? [];
  const known = index?.customer(customer)?.sites.find((s) => s.id === site)?.assets ?? [];
  const machines = [...here.map((a) => ({ id: a.id, name: a.body.name })), ...known.filter((k) => !here.some((a) => a.id === k.id))];
  const open = useOnce(async (begin: boolean) => {
    const id = newId();
    const visit = begin ? newId() : undefined;
    if (!newcomer) await db.adopt(index?.records(customer) ?? []); // who is only in the directory so far
    const where = newcomer ? recordsOf(newcomer) : { customer, site, asset: asset || undefined };
    const body = {
      how,
      visit: at?.visit,
      who: who.trim() || undefined,
      ...where,
      problem: problem.trim(),
      priority,
      minutes: 60,
      kind: kind || undefined,
      begin: visit,
    };
    if (!(await record("work.found", { type: "workorder", id }, body))) return;
    draft.clear();
    onClose();
    if (visit) navigate(`/field/visit/${visit}`);
    else tell(t("found.left"));
  });
  const somewhere = newcomer ? newcomer.customer.trim() !== "" : site !== "";
  const ready = somewhere && problem.trim() !== "" && (how !== "other_asset" || asset !== "" || newcomer !== undefined);
  return (
    <ChoiceDrawer title={t("found.title")} tall draft={draft} onClose={onClose}>
      <div className="scroll form-stack">
        {!at && (
          <WhereAt
            place={place}
            newcomer={newcomer}
            onPlace={(place) => draft.change({ place, asset: place?.asset ?? "" })}
            onNewcomer={(to) => draft.change(to ? { newcomer: newcomer ? to : { ...to, ...draft.value.newcomer }, known: false } : { known: true })}
          />
        )}
        <div className="options">
          {ways.map((w) => (
            <button type="button" key={w} aria-pressed={how === w} onClick={() => draft.change({ how: w })}>
              {t(`found.${w}`)}
            </button>
          ))}
        </div>
        <TextField
          label={t("found.problem")}
          value={problem}
          onChange={(e) => draft.change({ problem: e.target.value })}
          multiline
          minRows={3}
          slotProps={{ htmlInput: { maxLength: 5000 } }}
        />
        {machines.length > 0 && !newcomer && (
          <TextField select label={t("visit.asset")} value={asset} onChange={(e) => draft.change({ asset: e.target.value })}>
            <MenuItem value="">{t("found.noMachine")}</MenuItem>
            {machines.map((m) => (
              <MenuItem key={m.id} value={m.id}>
                {m.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        {how === "other_person" && (
          <TextField label={t("found.who")} value={who} onChange={(e) => draft.change({ who: e.target.value })} slotProps={{ htmlInput: { maxLength: 200 } }} />
        )}
        <div className="options">
          {priorities.map((p) => (
            <button type="button" key={p} aria-pressed={priority === p} onClick={() => draft.change({ priority: p })}>
              {t(`priority.${p}`)}
            </button>
          ))}
        </div>
        {(settings?.orders.works?.length ?? 0) > 0 && (
          <TextField select label={t("found.kind")} value={kind} onChange={(e) => draft.change({ kind: e.target.value })}>
            <MenuItem value="">{t("found.noKind")}</MenuItem>
            {settings?.orders.works?.map((w) => (
              <MenuItem key={w.id} value={w.id}>
                {w.text}
              </MenuItem>
            ))}
          </TextField>
        )}
      </div>
      <Button variant="contained" disabled={!ready} onClick={() => open(true)}>
        {t("found.begin")}
      </Button>
      <Button variant="outlined" disabled={!ready} onClick={() => open(false)}>
        {t("found.leave")}
      </Button>
    </ChoiceDrawer>
  );
}
