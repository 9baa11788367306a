import { Button, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import { DateField } from "../../form/dates";
import { act, get } from "../../session/api";
import { rightTo, useMay } from "../../session/session";
import type { Certificate, Person, PlannedPerson, Settings, WeekHours } from "../../types";
import { CalendarFeed } from "../../ui/CalendarFeed";
import { Empty } from "../../ui/Empty";
import { isoDate } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { PageHead } from "../../ui/PageHead";
import { Answer, Failure, useCommands, useQuestion, useSettings } from "../queries";
import { Absences } from "./Absences";
import { AheadField } from "./AheadField";
import css from "./People.module.css";
import { WeekFields } from "./WeekFields";

/** When somebody can be planned, and for what. */
export default function PersonPage() {
  const { t } = useTranslation();
  const { id = "" } = useParams();
  const query = useQuestion("/api/office/planning", {});
  const settings = useSettings().data;
  const mayFeed = useMay("visit.planned"); // who plans
  return (
    <Answer query={query}>
      {(all) => {
        const person = all.people.find((p) => p.id === id);
        if (!person || !settings) return <Empty>{t("office.notHere")}</Empty>;
        return (
          <main className="review" key={id}>
            <p className="small quiet">
              <Link to="/office/people">{t("planned.title")}</Link>
            </p>
            <PageHead title={person.person.name} />
            <div className={css.columns}>
              <Planned person={person} settings={settings} />
              <div>
                <Absences person={person} settings={settings} />
                {mayFeed && (
                  <section className="sec" aria-label={t("feed.title")}>
                    <h2>{t("feed.title")}</h2>
                    <CalendarFeed
                      look={() => get("/api/office/feeds/:person", { person: id })}
                      make={() => act("/api/office/feeds/:person", { person: id })}
                      end={() => act("/api/office/feeds/:person/end", { person: id })}
                    />
                  </section>
                )}
              </div>
            </div>
          </main>
        );
      }}
    </Answer>
  );
}

type Fields = Pick<Person, "hours" | "team" | "areas" | "certificates" | "ahead" | "phone" | "email">;

function Planned({ person: p, settings }: { person: PlannedPerson; settings: Settings }) {
  const { t } = useTranslation();
  const may = useMay(rightTo("record.amended", "person"));
  const commands = useCommands({ form: true });
  // had: what stood there when it was first changed
  const draft = useDraft<{ typed: Fields; had: Fields }>(`planned ${p.id}`, { typed: {}, had: {} });
  const { typed, had } = draft.value;
  const now = <F extends keyof Fields>(f: F): Fields[F] => (f in typed ? typed[f] : p.person[f]);
  const set = <F extends keyof Fields>(f: F, to: Fields[F]) => draft.change({ typed: { ...typed, [f]: to }, had: { [f]: p.person[f], ...had } });
  const any = Object.keys(typed).length > 0;
  const save = () => {
    const names = Object.keys(typed) as (keyof Fields)[];
    const body = Object.fromEntries(names.map((f) => [f, typed[f] ?? null]));
    const base = Object.fromEntries(names.map((f) => [f, had[f] ?? null]));
    commands.mutate([{ kind: "record.amended", subject: { type: "person", id: p.id }, body, base }], { onSuccess: draft.clear });
  };
  const weeks: WeekHours[] = now("hours") ?? [];
  const areas = settings.planning.areas ?? [];
  return (
    <section className="sec" aria-label={t("planned.planned")}>
      <h2>{t("planned.hours")}</h2>
      {weeks.length === 0 && <p className="quiet">{t("planned.ofAll")}</p>}
      <WeekFields weeks={weeks} may={may} from={isoDate(Date.now())} onChange={(to) => set("hours", to)} />
      <div className={css.fields}>
        <TextField
          select
          label={t("planned.team")}
          value={now("team") ?? ""}
          disabled={!may}
          onChange={(e) => set("team", e.target.value)}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">{t("planned.noTeam")}</MenuItem>
          {(settings.planning.teams ?? []).map((x) => (
            <MenuItem key={x.id} value={x.id}>
              {x.text}
            </MenuItem>
          ))}
        </TextField>
        {areas.length > 0 && (
          <TextField
            select
            label={t("planned.areas")}
            value={now("areas") ?? []}
            disabled={!may}
            onChange={(e) => set("areas", e.target.value as unknown as string[])}
            slotProps={{ select: { multiple: true } }}
          >
            {areas.map((a) => (
              <MenuItem key={a.id} value={a.id}>
                {a.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <AheadField value={now("ahead") ?? ""} nothing="company" disabled={!may} onChange={(to) => set("ahead", to || undefined)} />
      </div>
      <h2>{t("planned.reached")}</h2>
      <div className={css.fields}>
        <TextField
          label={t("field.contact.phone")}
          value={now("phone") ?? ""}
          disabled={!may}
          onChange={(e) => set("phone", e.target.value)}
          slotProps={{ htmlInput: { maxLength: 200, inputMode: "tel", autoComplete: "off" } }}
        />
        <TextField
          label={t("field.contact.email")}
          value={now("email") ?? ""}
          disabled={!may}
          onChange={(e) => set("email", e.target.value)}
          slotProps={{ htmlInput: { maxLength: 200, inputMode: "email", autoComplete: "off" } }}
        />
      </div>
      <Certificates person={p} settings={settings} list={now("certificates") ?? []} may={may} onChange={(list) => set("certificates", list)} />
      {may && (
        <div className="line">
          <Button variant="contained" disabled={!any || commands.isPending} onClick={save}>
            {t("records.save")}
          </Button>
          {any && <ThrowAway draft={draft} />}
          <span role="status">{commands.isSuccess && !any && <Tag kind="good">{t("records.saved")}</Tag>}</span>
          <Failure error={commands.error} />
        </div>
      )}
    </section>
  );
}

interface CertificatesProps {
  person: PlannedPerson;
  settings: Settings;
  list: Certificate[];
  may: boolean;
  onChange: (list: Certificate[]) => void;
}

/** The skills of somebody, with the day on which one runs out. */
function Certificates({ person, settings, list, may, onChange }: CertificatesProps) {
  const { t } = useTranslation();
  const today = isoDate(Date.now());
  const until = (skill: string) => list.find((c) => c.skill === skill)?.until ?? "";
  return (
    <>
      <h2>{t("planned.skills")}</h2>
      <div className={css.fields}>
        {(person.person.skills ?? []).map((s) => (
          <div key={s}>
            <DateField
              label={t("planned.until", { skill: settings.orders.skills?.find((x) => x.id === s)?.text ?? s })}
              value={until(s)}
              disabled={!may}
              onChange={(v) => onChange([...list.filter((c) => c.skill !== s), ...(v ? [{ skill: s, until: v }] : [])])}
            />
            {until(s) && until(s) < today && <Tag kind="bad">{t("planned.ranOut")}</Tag>}
          </div>
        ))}
      </div>
      {!person.person.skills?.length && <p className="quiet">{t("planned.noSkills")}</p>}
    </>
  );
}
