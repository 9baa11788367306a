/** The fields of a Form, each by the name of its value. */
import { Button, MenuItem, TextField } from "@mui/material";
import type { ReactNode } from "react";
import { useController, useFormContext, useFormState } from "react-hook-form";
import { useTranslation } from "react-i18next";
import { isNumber, isPositive, isQuantity } from "../ui/decimal";
import { DateField, TimeField } from "./dates";

interface Common {
  name: string;
  label: string;
  required?: boolean;
  /** says what is wrong with a value, in a sentence; undefined when nothing is */
  check?: (value: string) => string | undefined;
}

function useField({ name, required, check }: Common) {
  const { t } = useTranslation();
  const wrong = (value: string) => (value.trim() === "" ? (required ? t("form.required") : undefined) : check?.(value));
  const { field, fieldState } = useController({ name, rules: { validate: (value: string) => wrong(value ?? "") ?? true } });
  // What was never typed into is not called wrong: the button says that something is missing.
  const error = fieldState.isDirty || fieldState.isTouched ? fieldState.error?.message : undefined;
  return { field, error };
}

interface TextProps extends Common {
  lines?: number;
  max?: number;
}

/** A text. */
export function TextInput({ lines, max = 500, ...common }: TextProps) {
  const { field, error } = useField(common);
  return (
    <TextField
      {...field}
      inputRef={field.ref}
      ref={undefined}
      label={common.label}
      error={!!error}
      helperText={error}
      multiline={!!lines}
      minRows={lines}
      slotProps={{ htmlInput: { maxLength: max, autoComplete: "off" } }}
    />
  );
}

const numbers = { any: isNumber, quantity: isQuantity, positive: isPositive };

/** A number: any, none below zero, or one above it. */
export function NumberInput({ kind = "any", check, ...common }: Common & { kind?: keyof typeof numbers }) {
  const { t } = useTranslation();
  const { field, error } = useField({ ...common, check: (v) => (numbers[kind](v) ? check?.(v) : t(`form.number.${kind}`)) });
  return (
    <TextField
      {...field}
      inputRef={field.ref}
      ref={undefined}
      label={common.label}
      error={!!error}
      helperText={error}
      slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off" } }}
    />
  );
}

/** One of a few. */
export function ChoiceInput({ choices, ...common }: Common & { choices: readonly (readonly [string, string])[] }) {
  const { field, error } = useField(common);
  return (
    <TextField {...field} inputRef={field.ref} ref={undefined} select label={common.label} error={!!error} helperText={error}>
      {choices.map(([id, text]) => (
        <MenuItem key={id} value={id}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Several of a list. */
export function SeveralInput({ choices, ...common }: Common & { choices: readonly (readonly [string, string])[] }) {
  const { field } = useController({ name: common.name });
  return (
    <TextField {...field} inputRef={field.ref} ref={undefined} select label={common.label} slotProps={{ select: { multiple: true } }}>
      {choices.map(([id, text]) => (
        <MenuItem key={id} value={id}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** A date, as 2026-03-10. */
export function DateInput(common: Common) {
  const { field } = useField(common);
  return <DateField label={common.label} value={field.value} onChange={field.onChange} required={common.required} />;
}

/** A time of day, as 14:30. */
export function TimeInput(common: Common) {
  const { field } = useField(common);
  return <TimeField label={common.label} value={field.value} onChange={field.onChange} required={common.required} />;
}

/** Saves the form: it can be pressed once all that is required is there. */
export function SaveButton({ busy, main = true, children }: { busy?: boolean; main?: boolean; children: ReactNode }) {
  const { control } = useFormContext();
  const { isValid, isDirty } = useFormState({ control });
  return (
    <Button type="submit" variant={main ? "contained" : "outlined"} disabled={busy || !isValid || !isDirty}>
      {children}
    </Button>
  );
}
