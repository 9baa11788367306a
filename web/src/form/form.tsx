/** Forms: what is typed is kept as a draft until it is saved or thrown away, and what is wrong with it is said under its field. */
import { type ReactNode, useEffect, useLayoutEffect, useRef } from "react";
import { type DefaultValues, type FieldValues, FormProvider, type UseFormReturn, useForm } from "react-hook-form";
import { useDraft } from "../draft/draft";

export interface KeptForm<T extends FieldValues> {
  fields: UseFormReturn<T>;
  /** whether anything was typed that is not saved */
  begun: boolean;
  /** lets go of what was typed: it was saved, or thrown away */
  clear: () => void;
}

/** A form by a name that says what it is of. Blank is what it begins with, such as a record as it stands. */
export function useKeptForm<T extends FieldValues>(name: string, blank: T): KeptForm<T> {
  const draft = useDraft<T>(name, blank);
  const fields = useForm<T>({ defaultValues: blank as DefaultValues<T>, mode: "onChange" });
  const { subscribe, reset } = fields;
  const { change, begun, value } = draft;
  const kept = useRef(value);
  useLayoutEffect(() => reset(kept.current, { keepDefaultValues: true }), [reset]); // what was typed before is typed, beside what the form begins with
  useEffect(
    () => subscribe({ formState: { values: true }, callback: ({ values, name }) => name && change(values) }), // without a name it was set, not typed
    [subscribe, change],
  );
  const now = JSON.stringify(blank);
  useEffect(() => {
    if (!begun) reset(JSON.parse(now)); // what it begins with is another by now, or the draft was let go of
  }, [now, begun, reset]);
  return { fields, begun, clear: draft.clear };
}

interface Props<T extends FieldValues> {
  form: KeptForm<T>;
  className?: string;
  /** saved is to be called once the values are kept: until then they stay typed */
  onSave: (values: T, saved: () => void) => void;
  children: ReactNode;
}

export function Form<T extends FieldValues>({ form, className, onSave, children }: Props<T>) {
  const send = form.fields.handleSubmit((values) => onSave(values, form.clear));
  return (
    <FormProvider {...form.fields}>
      <form className={className} noValidate onSubmit={(e) => void send(e)}>
        {children}
      </form>
    </FormProvider>
  );
}
