import { type Announcements, closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, type useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";

interface Props {
  /** in their order */
  ids: string[];
  /** what one is called by a reader of the screen */
  nameOf: (id: string) => string;
  onDrop: (dragged: string, onto: string) => void;
  children: ReactNode;
}

/** A list put in order by dragging, or with the keyboard: space, arrows, space. Each move is said to whoever listens to the screen. */
export function Sorting({ ids, nameOf, onDrop, children }: Props) {
  const { t } = useTranslation();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const said = (key: string, dragged: string | number, over?: string | number) =>
    t(key, { name: nameOf(String(dragged)), at: ids.indexOf(String(over ?? dragged)) + 1, of: ids.length });
  const announcements: Announcements = {
    onDragStart: ({ active }) => said("sorting.at", active.id),
    onDragOver: ({ active, over }) => said("sorting.at", active.id, over?.id),
    onDragEnd: ({ active, over }) => said("sorting.put", active.id, over?.id),
    onDragCancel: ({ active }) => said("sorting.put", active.id),
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) onDrop(String(active.id), String(over.id));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={dropped}
      accessibility={{ announcements, screenReaderInstructions: { draggable: t("sorting.how") } }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** What one is dragged by, and moved with the keyboard: it goes beside what is said of it, so that a finger elsewhere scrolls the list. */
export function Grip({ name, sortable: { attributes, listeners, setActivatorNodeRef } }: { name: string; sortable: ReturnType<typeof useSortable> }) {
  const { t } = useTranslation();
  return (
    <button type="button" ref={setActivatorNodeRef} className="grip" aria-label={t("sorting.move", { name })} {...attributes} {...listeners}>
      <svg viewBox="0 0 10 16" width="10" height="16" aria-hidden="true">
        <path d="M2 3h6M2 8h6M2 13h6" stroke="currentColor" strokeWidth="1.6" />
      </svg>
    </button>
  );
}
