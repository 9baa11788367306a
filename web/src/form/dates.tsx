/** Dates and times of day to type or pick, as the company writes them. */

import { AdapterDayjs } from "@mui/x-date-pickers/AdapterDayjs";
import { DatePicker } from "@mui/x-date-pickers/DatePicker";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import { TimePicker } from "@mui/x-date-pickers/TimePicker";
import { renderMultiSectionDigitalClockTimeView as lists } from "@mui/x-date-pickers/timeViewRenderers";
import dayjs, { type Dayjs } from "dayjs";
import customParseFormat from "dayjs/plugin/customParseFormat";
import "dayjs/locale/en-gb";
import { useState } from "react";
import { useBack } from "../ui/back";
import { dateFormat, timeFormat } from "../ui/format";
import css from "./dates.module.css";

dayjs.extend(customParseFormat);

interface Props {
  label: string;
  /** 2026-03-10 of a date, 14:05 of a time; "" while there is none */
  value: string;
  /** is told "" while what is typed is none */
  onChange: (value: string) => void;
  required?: boolean;
  disabled?: boolean;
}

/** A year before it is one of which not all digits are typed yet. */
const firstYear = 1900;

/** What is picked, as the component library holds it. What is half typed stays in the field, and is none to whoever asks. */
function usePicked(value: string, pattern: string, onChange: (value: string) => void) {
  const read = (text: string) => (text === "" ? null : dayjs(text, pattern, true));
  const write = (at: Dayjs | null) => (at?.isValid() && at.year() >= firstYear ? at.format(pattern) : "");
  const [at, setAt] = useState(() => read(value));
  if (write(at) !== value) setAt(read(value)); // it was set from elsewhere
  return {
    value: at,
    onChange: (next: Dayjs | null) => {
      setAt(next);
      if (write(next) !== value) onChange(write(next));
    },
  };
}

/** What is open to pick from. Back closes that, and not what it lies over. */
function usePicking() {
  const [open, setOpen] = useState(false);
  const close = () => setOpen(false);
  return { picking: { open, onOpen: () => setOpen(true), onClose: close }, layer: open && <Picking onBack={close} /> };
}

function Picking({ onBack }: { onBack: () => void }) {
  useBack(onBack);
  return null;
}

const field = (required?: boolean) => ({
  toolbar: { hidden: true },
  layout: { className: css.picking },
  textField: { size: "small" as const, fullWidth: true, required, className: css.field },
});

/** A date. */
export function DateField({ label, value, onChange, required, disabled }: Props) {
  const picked = usePicked(value, "YYYY-MM-DD", onChange);
  const { picking, layer } = usePicking();
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs} adapterLocale="en-gb">
      <DatePicker label={label} format={dateFormat} disabled={disabled} {...picked} {...picking} slotProps={field(required)} />
      {layer}
    </LocalizationProvider>
  );
}

/** Lists to tap in, rather than a dial: that takes a fingertip, and field people wear gloves. */
const timeViews = { hours: lists, minutes: lists };

/** A time of day, to the minute. */
export function TimeField({ label, value, onChange, required, disabled }: Props) {
  const picked = usePicked(value, "HH:mm", onChange);
  const { picking, layer } = usePicking();
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs} adapterLocale="en-gb">
      <TimePicker
        label={label}
        format={timeFormat}
        ampm={false}
        disabled={disabled}
        viewRenderers={timeViews}
        {...picked}
        {...picking}
        slotProps={field(required)}
      />
      {layer}
    </LocalizationProvider>
  );
}
