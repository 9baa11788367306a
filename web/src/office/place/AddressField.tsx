import { Autocomplete, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { AddressFound } from "../../types";
import { useAddresses } from "./useAddresses";

interface Props {
  label: string;
  value: string;
  onChange: (typed: string) => void;
  /** takes an address of the region, with where it is */
  onTake: (found: AddressFound) => void;
  readOnly?: boolean;
}

/** An address, typed freely; what the region's map knows of it is offered. */
export function AddressField({ label, value, onChange, onTake, readOnly = false }: Props) {
  const { t } = useTranslation();
  const found = useAddresses(readOnly ? "" : value);
  return (
    <Autocomplete<AddressFound, false, true, true>
      freeSolo
      disableClearable
      readOnly={readOnly}
      options={found}
      filterOptions={(all) => all}
      getOptionLabel={(o) => (typeof o === "string" ? o : o.address)}
      getOptionKey={(o) => (typeof o === "string" ? o : `${o.address} ${o.at.lat} ${o.at.lon}`)}
      value={value}
      inputValue={value}
      onInputChange={(_, typed, why) => why === "input" && onChange(typed)}
      onChange={(_, chosen) => typeof chosen !== "string" && onTake(chosen)}
      renderOption={({ key, ...props }, o) => (
        <li key={key} {...props}>
          <span>
            {o.address}
            <span className="tiny quiet block">{t(`address.${o.precision}`)}</span>
          </span>
        </li>
      )}
      renderInput={(params) => (
        <TextField {...params} label={label} slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, maxLength: 200 } }} />
      )}
    />
  );
}
