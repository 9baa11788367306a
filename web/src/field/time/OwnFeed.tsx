import { useTranslation } from "react-i18next";
import { act, get } from "../../session/api";
import { CalendarFeed } from "../../ui/CalendarFeed";
import { ChoiceDrawer } from "../../ui/ChoiceDrawer";

/** One's own plan for other calendars. */
export default function OwnFeed({ onClose }: { onClose: () => void }) {
  const { t } = useTranslation();
  return (
    <ChoiceDrawer title={t("feed.title")} onClose={onClose}>
      <CalendarFeed look={() => get("/api/feed")} make={() => act("/api/feed", {})} end={() => act("/api/feed/end", {})} />
    </ChoiceDrawer>
  );
}
