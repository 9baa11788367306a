import { Autocomplete, TextField } from "@mui/material";
import type { TroubleKind } from "../types";
import { matching, offered, pathText, type Tree } from "./troubles";

interface Props {
  tree: Tree;
  kind: TroubleKind;
  label: string;
  value?: string;
  /** the kind of machine that it is on */
  machine?: string;
  /** what was said before: the trouble of a cause, the cause of a remedy */
  under?: string;
  onChange: (id?: string) => void;
}

/** A trouble, a cause or a remedy, found by any word of the way to it. */
export function TroublePicker({ tree, kind, label, value, machine, under, onChange }: Props) {
  const nodes = offered(tree, kind, machine, under);
  return (
    <Autocomplete
      options={nodes.map((n) => n.id)}
      value={value ?? null}
      isOptionEqualToValue={(a, b) => a === b}
      getOptionLabel={(id) => pathText(tree, id)}
      filterOptions={(_, { inputValue }) => (inputValue === pathText(tree, value) ? nodes : matching(tree, nodes, inputValue)).map((n) => n.id)}
      onChange={(_, id) => onChange(id ?? undefined)}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}
