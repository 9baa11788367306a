/** What a step still needs to know: how it ended, or why. One tap each. */

import { useTranslation } from "react-i18next";
import type { Action, Choice, StepTaken } from "../types";
import { LayerDrawer } from "../ui/Layers";
import { OwnReason } from "../ui/OwnReason";
import { ChoiceList } from "./ChoiceList";
import { useSettings } from "./device";
import { Outcomes } from "./finish/Outcomes";

interface Props {
  action: Action;
  visit: string;
  onChoose: (body: StepTaken) => void;
  onClose: () => void;
}

export default function ActionDrawer({ action, visit, onChoose, onClose }: Props) {
  return (
    <LayerDrawer anchor="bottom" onClose={onClose}>
      <div className="choices field tall-when-needed">
        {action === "finished" ? (
          <Outcomes visit={visit} onChoose={onChoose} onClose={onClose} />
        ) : (
          <Reasons action={action} visit={visit} onChoose={onChoose} onClose={onClose} />
        )}
      </div>
    </LayerDrawer>
  );
}

function Reasons({ action, visit, onChoose, onClose }: Props) {
  const { t } = useTranslation();
  const settings = useSettings();
  const reasons: Choice[] = (action === "paused" ? settings?.time.pauses : settings?.visits.declines) ?? [];
  const own = action === "declined" && (
    <OwnReason
      name={`decline ${visit}`}
      label={t("decline.own")}
      act={t("action.declined")}
      onReason={async (reason) => {
        onChoose({ reason });
        return true;
      }}
    />
  );
  return (
    <ChoiceList
      title={t(action === "paused" ? "pause.why" : "decline.why")}
      items={reasons.map((r) => ({ id: r.id, text: r.text }))}
      onPick={(id) => onChoose({ reason: id, clock: action === "paused" ? reasons.find((r) => r.id === id)?.clock : undefined })}
      onClose={onClose}
      close={t("choose.cancel")}
      more={own}
    />
  );
}
