/** Drawing on a photo: the photo stays as it was taken, what is drawn is recorded beside it. */
import { Button, TextField } from "@mui/material";
import { type PointerEvent, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { useDraft } from "../../draft/draft";
import { ThrowAway } from "../../draft/ThrowAway";
import type { Mark, MarkForm, PhotoMoment, File as VisitFile } from "../../types";
import { LayerDialog } from "../../ui/Layers";
import { Drawn, paints } from "../../ui/Marks";
import { useRecord } from "../device";

const forms: MarkForm[] = ["arrow", "line", "box", "free", "words"];
const stages = ["", "before", "after"] as const;

/** What is drawn and said of a photo. */
interface Described {
  marks: Mark[];
  caption: string;
  moment: PhotoMoment;
  words: string;
}

interface Props {
  visit: string;
  file: VisitFile;
  address?: string;
  onClose: () => void;
}

export default function MarkUp({ visit, file, address, onClose }: Props) {
  const { t } = useTranslation();
  const record = useRecord();
  const draft = useDraft<Described>(`marks ${file.entry}`, { marks: file.marks ?? [], caption: file.caption ?? "", moment: file.moment ?? "", words: "" });
  const { marks, caption, moment, words } = draft.value;
  const [form, setForm] = useState<MarkForm>("arrow");
  const [colour, setColour] = useState("signal");
  const save = async () => {
    if (!(await record("file.described", visit, { file: file.entry, caption: caption.trim(), moment: moment || undefined, marks }))) return;
    draft.clear();
    onClose();
  };
  return (
    <LayerDialog fullScreen onClose={onClose} slotProps={{ paper: { "aria-label": t("marks.title") } }}>
      <div className="mark-up field">
        <div className="items" role="toolbar" aria-label={t("marks.title")}>
          {forms.map((f) => (
            <button type="button" key={f} aria-pressed={form === f} onClick={() => setForm(f)}>
              {t(`marks.${f}`)}
            </button>
          ))}
          {Object.entries(paints).map(([name, paint]) => (
            <button type="button" key={name} aria-pressed={colour === name} aria-label={t(`marks.${name as "ink"}`)} onClick={() => setColour(name)}>
              <span className="paint" style={{ background: paint }} />
            </button>
          ))}
          <button type="button" className="link" disabled={marks.length === 0} onClick={() => draft.change({ marks: marks.slice(0, -1) })}>
            {t("marks.undo")}
          </button>
        </div>
        {form === "words" && (
          <TextField
            label={t("marks.text")}
            value={words}
            onChange={(e) => draft.change({ words: e.target.value })}
            helperText={t("marks.textHint")}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
        )}
        <Paper
          address={address}
          alt={file.caption || file.name}
          marks={marks}
          draw={{ form, colour, words: words.trim() }}
          onMark={(m) => draft.change({ marks: [...marks, m] })}
        />
        <div className="mark-up-foot">
          <TextField
            label={t("photos.caption")}
            value={caption}
            onChange={(e) => draft.change({ caption: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
          <div className="items">
            {stages.map((s) => (
              <button type="button" key={s} aria-pressed={moment === s} onClick={() => draft.change({ moment: s })}>
                {t(`moment.${s || "none"}`)}
              </button>
            ))}
          </div>
          <span className="photo-actions">
            <ThrowAway draft={draft} />
            <button type="button" className="link" onClick={onClose}>
              {t("choose.cancel")}
            </button>
            <Button variant="contained" onClick={save}>
              {t("marks.save")}
            </Button>
          </span>
        </div>
      </div>
    </LayerDialog>
  );
}

interface PaperProps {
  address?: string;
  alt: string;
  marks: Mark[];
  draw: { form: MarkForm; colour: string; words: string };
  onMark: (m: Mark) => void;
}

const unit = 10_000;

/** How far apart points of a free line are, at least. */
const apart = 60;

function Paper({ address, alt, marks, draw, onMark }: PaperProps) {
  const [shape, setShape] = useState(0.75);
  const [now, setNow] = useState<Mark>();
  const svg = useRef<SVGSVGElement>(null);
  const at = (e: PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect();
    const scale = unit / box.width;
    return [Math.round((e.clientX - box.left) * scale), Math.round((e.clientY - box.top) * scale)];
  };
  const begin = (e: PointerEvent) => {
    const [x, y] = at(e);
    if (draw.form === "words") {
      if (draw.words) onMark({ form: "words", points: [x, y], text: draw.words, colour: draw.colour });
      return;
    }
    e.currentTarget.setPointerCapture(e.pointerId);
    setNow({ form: draw.form, points: [x, y, x, y], colour: draw.colour });
  };
  const move = (e: PointerEvent) => {
    if (!now) return;
    const [x, y] = at(e);
    const p = now.points;
    if (now.form !== "free") setNow({ ...now, points: [p[0], p[1], x, y] });
    else if (Math.hypot(x - p[p.length - 2], y - p[p.length - 1]) > apart) setNow({ ...now, points: [...p, x, y] });
  };
  const end = () => {
    if (now && Math.hypot(now.points[2] - now.points[0], now.points[3] - now.points[1]) > 1) onMark(now);
    else if (now?.form === "free" && now.points.length > 4) onMark(now);
    setNow(undefined);
  };
  return (
    <div className="mark-up-paper">
      <span className="marked">
        <img src={address} alt={alt} draggable={false} onLoad={(e) => setShape(e.currentTarget.naturalHeight / Math.max(1, e.currentTarget.naturalWidth))} />
        <svg
          ref={svg}
          className="marks marks-draw"
          viewBox={`0 0 ${unit} ${Math.round(unit * shape)}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={alt}
          onPointerDown={begin}
          onPointerMove={move}
          onPointerUp={end}
          onPointerCancel={() => setNow(undefined)}
        >
          {marks.map((m, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: marks have no other name than their place
            <Drawn key={i} mark={m} />
          ))}
          {now && <Drawn mark={now} />}
        </svg>
      </span>
    </div>
  );
}
