import { Button, Menu, MenuItem } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { ApiError } from "../../session/session";
import type { ListFile, ListPage } from "../../types";
import { Failure } from "../queries";
import { type Asking, askOf } from "./address";
import { shownColumns } from "./Lines";
import { type ListName, useWords } from "./words";

interface Props {
  list: ListName;
  page: ListPage;
  asked: Asking;
  picked: string[];
}

/** Writes the lines to a file, with the columns that are shown: those that are picked, or all that are asked for. */
export function Files(props: Props) {
  const { t } = useTranslation();
  const [at, setAt] = useState<HTMLElement>();
  const file = useFile(props);
  const count = props.picked.length || props.page.total;
  return (
    <>
      <Button onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu" disabled={file.isPending || count === 0}>
        {t("list.file")}
      </Button>
      <Failure error={file.error} />
      {at && (
        <Menu open anchorEl={at} onClose={() => setAt(undefined)}>
          {(["xlsx", "csv"] as const).map((format) => (
            <MenuItem
              key={format}
              onClick={() => {
                setAt(undefined);
                file.mutate(format);
              }}
            >
              {t(`list.file.${format}`, { count })}
            </MenuItem>
          ))}
        </Menu>
      )}
    </>
  );
}

function useFile({ list, page, asked, picked }: Props) {
  const words = useWords(list);
  return useMutation({
    mutationFn: async (format: "csv" | "xlsx") => {
      const columns = shownColumns(list, page.columns, asked).map((c) => ({
        name: c.name,
        title: words.title(c.name),
        words: Object.fromEntries(words.codes(c).map((v) => [v, words.value(c, v)])),
      }));
      const body: ListFile = { ...askOf({ ...asked, page: 0 }), ids: picked.length > 0 ? JSON.stringify(picked) : "", format, columns };
      const response = await fetch(`/api/office/lists/${list}/file`, { method: "POST", body: JSON.stringify(body) });
      if (!response.ok) throw new ApiError(await response.json().catch(() => ({ status: response.status, code: "server.failed" })));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await response.blob());
      link.download = `${list}.${format}`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
    },
  });
}
