import { Button, MenuItem, TextField } from "@mui/material";
import i18next from "i18next";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import { decimal } from "../../ui/decimal";
import { quantity } from "../../ui/format";
import { say } from "../../words/i18n";
import { type Basket, inUnit, type Picked, stepped } from "./useBasket";

/** What is picked, with its quantities in place. left tells what the place has of each. */
export function BasketLines({ basket, left }: { basket: Basket; left: (part: string) => string | undefined }) {
  const { t } = useTranslation();
  return (
    <ul className="basket" aria-label={t("parts.picked")}>
      {basket.lines.map((p) => (
        <li key={p.line}>
          <Line picked={p} basket={basket} left={left(p.part)} />
        </li>
      ))}
    </ul>
  );
}

/** How much of a part a place has; fewer than none is a count that is wrong. */
export function thereWords(balance: string | undefined, unit = ""): string {
  if (balance === undefined || decimal(balance).isZero()) return i18next.t("parts.notThere");
  return decimal(balance).lt(0)
    ? i18next.t("parts.below", { quantity: quantity(balance.replace("-", ""), unit) })
    : i18next.t("parts.there", { quantity: quantity(balance, unit) });
}

function Line({ picked: p, basket, left }: { picked: Picked; basket: Basket; left?: string }) {
  const { t } = useTranslation();
  const units = core("units", p.of).units;
  const { problem } = inUnit(p);
  const step = (by: number) => basket.change(p.line, { quantity: stepped(p.quantity, by) });
  return (
    <>
      <span className="basket-name">
        <span className="strong">{p.of.name}</span>
        <span className="tiny quiet block">
          {p.of.number} · {thereWords(left, p.of.unit)}
        </span>
      </span>
      <span className="basket-row">
        {p.of.serial ? (
          <TextField
            className="basket-serial"
            label={t("parts.serial")}
            value={p.serial}
            onChange={(e) => basket.change(p.line, { serial: e.target.value })}
            slotProps={{ htmlInput: { autoComplete: "off", maxLength: 100 } }}
          />
        ) : (
          <>
            <Button aria-label={t("parts.less")} onClick={() => step(-1)}>
              −
            </Button>
            <TextField
              label={t("parts.quantity")}
              value={p.quantity}
              error={!!problem}
              onChange={(e) => basket.change(p.line, { quantity: e.target.value })}
              slotProps={{ htmlInput: { inputMode: "decimal", autoComplete: "off" } }}
            />
            <Button aria-label={t("parts.more")} onClick={() => step(1)}>
              +
            </Button>
            {units.length > 1 ? (
              <TextField
                select
                className="basket-unit"
                label={t("parts.unit")}
                value={p.unit}
                onChange={(e) => basket.change(p.line, { unit: e.target.value })}
              >
                {units.map((u) => (
                  <MenuItem key={u} value={u}>
                    {u}
                  </MenuItem>
                ))}
              </TextField>
            ) : (
              <span className="quiet">{p.unit === "each" ? "" : p.unit}</span>
            )}
          </>
        )}
        <button type="button" className="link small basket-drop" onClick={() => basket.drop(p.line)}>
          {t("parts.drop")}
        </button>
      </span>
      {problem && (
        <p className="small failure" role="alert">
          {say(problem)}
        </p>
      )}
    </>
  );
}
