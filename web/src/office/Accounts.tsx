import { Button, DialogActions, DialogContent, DialogContentText, DialogTitle, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { AccountLine, SessionLine } from "../types";
import { Confirm } from "../ui/Confirm";
import { timeOrDay } from "../ui/format";
import { Tag } from "../ui/Glyph";
import { LayerDialog } from "../ui/Layers";
import { PageHead } from "../ui/PageHead";
import { useAct, useQuestion } from "./commands";
import { Answer, Failure, useCommands, useSettings } from "./queries";

/** Who can sign in, where they are signed in, and the end of it: for administrators. */
export default function Accounts() {
  const { t } = useTranslation();
  const query = useQuestion("/api/office/accounts", {});
  return (
    <main className="review">
      <PageHead title={t("accounts.title")} hint={t("accounts.hint")} />
      <Answer query={query}>
        {(lines) => (
          <table className="table accounts">
            <thead>
              <tr>
                <th>{t("accounts.who")}</th>
                <th>{t("accounts.login")}</th>
                <th>{t("accounts.where")}</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {lines.map((l) => (
                <Line key={l.person} line={l} />
              ))}
            </tbody>
          </table>
        )}
      </Answer>
    </main>
  );
}

function Line({ line: l }: { line: AccountLine }) {
  const { t } = useTranslation();
  return (
    <tr>
      <td>
        <span className="strong block">{l.name}</span>
        <span className="small quiet">{l.roles.map((r) => t(`role.${r}`)).join(", ")}</span>
        {l.roles.includes("technician") && <UsualSort line={l} />}
      </td>
      <td>
        {l.login || <span className="quiet">{t("accounts.none")}</span>}
        {l.disabled && (
          <span className="block">
            <Tag kind="bad">{t("accounts.disabled", { time: timeOrDay(l.disabled) })}</Tag>
          </span>
        )}
      </td>
      <td>
        {l.sessions.map((s) => (
          <Session key={s.id} session={s} />
        ))}
      </td>
      <td>
        <span className="accounts-ways">
          {l.login && <Access line={l} />}
          <Password line={l} />
        </span>
      </td>
    </tr>
  );
}

/** The sort of work that a technician's time goes to where they say nothing else. */
function UsualSort({ line: l }: { line: AccountLine }) {
  const { t } = useTranslation();
  const commands = useCommands();
  const sorts = useSettings().data?.time.sorts ?? [];
  if (sorts.length === 0) return null;
  const set = (sort: string) =>
    commands.mutate([{ kind: "record.amended", subject: { type: "person", id: l.person }, body: { sort: sort || null }, base: { sort: l.sort ?? null } }]);
  return (
    <TextField
      select
      size="small"
      fullWidth
      margin="dense"
      label={t("accounts.sort")}
      value={l.sort ?? ""}
      disabled={commands.isPending}
      onChange={(e) => set(e.target.value)}
    >
      <MenuItem value="">{t("orderPage.none")}</MenuItem>
      {sorts.map((s) => (
        <MenuItem key={s.id} value={s.id}>
          {s.text}
        </MenuItem>
      ))}
    </TextField>
  );
}

function Session({ session: s }: { session: SessionLine }) {
  const { t } = useTranslation();
  const end = useAct("/api/office/sessions/:id/end", { id: s.id });
  return (
    <span className="accounts-session small">
      <span>
        {s.agent || t("accounts.somewhere")}{" "}
        <span className="quiet">{[s.address, t("accounts.seen", { time: timeOrDay(s.seen) })].filter(Boolean).join(" · ")}</span>
      </span>
      {s.here ? (
        <span className="quiet">{t("accounts.here")}</span>
      ) : (
        <button type="button" className="link" disabled={end.isPending} onClick={() => end.mutate({})}>
          {t("accounts.endSession")}
        </button>
      )}
      <Failure error={end.error} />
    </span>
  );
}

/** Disables an account, after asking, or enables it again. */
function Access({ line: l }: { line: AccountLine }) {
  const { t } = useTranslation();
  const [asking, setAsking] = useState(false);
  const set = useAct("/api/office/accounts/:person/access", { person: l.person });
  if (l.disabled) {
    return (
      <Button size="small" disabled={set.isPending} onClick={() => set.mutate({ disabled: false })}>
        {t("accounts.enable")}
      </Button>
    );
  }
  return (
    <>
      <Button size="small" onClick={() => setAsking(true)}>
        {t("accounts.disable")}
      </Button>
      {asking && (
        <Confirm
          title={t("accounts.disableAsk", { name: l.name })}
          text={t("accounts.disableHint")}
          act={t("accounts.disable")}
          busy={set.isPending}
          onAct={() => set.mutate({ disabled: true }, { onSuccess: () => setAsking(false) })}
          onClose={() => setAsking(false)}
        >
          <Failure error={set.error} />
        </Confirm>
      )}
    </>
  );
}

/** Gives somebody a new first password, and a login when they have none. It is shown once. */
function Password({ line: l }: { line: AccountLine }) {
  const { t } = useTranslation();
  const [asking, setAsking] = useState(false);
  const [login, setLogin] = useState(l.person);
  const give = useAct("/api/office/accounts/:person/password", { person: l.person });
  const close = () => {
    setAsking(false);
    give.reset();
  };
  return (
    <>
      <Button size="small" onClick={() => setAsking(true)}>
        {t(l.login ? "accounts.password" : "accounts.give")}
      </Button>
      {asking && (
        <LayerDialog onClose={close} fullWidth maxWidth="xs">
          <DialogTitle>{t("accounts.passwordAsk", { name: l.name })}</DialogTitle>
          <DialogContent>
            <div className="form-stack">
              {give.data ? (
                <p role="status">
                  {t("accounts.given", { login: give.data.login })} <b className="mono">{give.data.password}</b>
                </p>
              ) : (
                <>
                  <DialogContentText>{t("accounts.passwordHint")}</DialogContentText>
                  {!l.login && <TextField label={t("signin.login")} value={login} onChange={(e) => setLogin(e.target.value)} />}
                </>
              )}
              <Failure error={give.error} />
            </div>
          </DialogContent>
          <DialogActions>
            <Button onClick={close}>{t(give.data ? "accounts.noted" : "choose.cancel")}</Button>
            {!give.data && (
              <Button
                variant="contained"
                disabled={give.isPending || (!l.login && !login.trim())}
                onClick={() => give.mutate({ login: l.login ? undefined : login })}
              >
                {t("accounts.passwordGo")}
              </Button>
            )}
          </DialogActions>
        </LayerDialog>
      )}
    </>
  );
}
