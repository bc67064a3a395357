import {
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import type { CSSProperties, ReactNode } from "react";
import { upperFirst } from "../lib/words";

interface Props {
  ids: string[];
  /** What each is, as "part". */
  thing: string;
  /** Puts one in the place of another. */
  onMove: (id: string, over: string) => void;
  children: ReactNode;
}

/** Sortable is a list in an order that is dragged, by key too: its rows take useSortableRow. */
export function Sortable({ ids, thing, onMove, children }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const place = (id: unknown) => ids.indexOf(String(id)) + 1;
  const name = upperFirst(thing);
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${name} ${place(active.id)} is lifted.`,
    onDragOver: ({ over }) => (over ? `It would be ${thing} ${place(over.id)}.` : "It is over no place."),
    onDragEnd: ({ active, over }) =>
      `${name} ${place(active.id)} was put down${over ? ` as ${thing} ${place(over.id)}` : ""}.`,
    onDragCancel: () => "It stays where it was.",
  };
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) onMove(String(active.id), String(over.id));
  };
  return (
    <DndContext sensors={sensors} accessibility={{ announcements }} collisionDetection={closestCenter} onDragEnd={drop}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

interface Row {
  ref: (node: HTMLElement | null) => void;
  style: CSSProperties;
  isDragging: boolean;
  grip: ReactNode;
}

/** useSortableRow is a row of a Sortable and the grip by which it is taken; name says what it is, as "part 3". */
export function useSortableRow(id: string, name: string, gripLook = ""): Row {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id,
  });
  return {
    ref: setNodeRef,
    style: { transform: CSS.Translate.toString(transform), transition },
    isDragging,
    grip: (
      <button
        ref={setActivatorNodeRef}
        type="button"
        className={`btn btn-ghost btn-xs btn-square cursor-grab touch-none ${gripLook}`}
        title="Drag to another place (space, then the arrows)"
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
      >
        <GripVertical size="1.2em" aria-hidden="true" />
      </button>
    ),
  };
}

/** moved returns a list in which one has taken the place of another; the same list where nothing moves. */
export function moved<T extends { id: string }>(list: readonly T[], id: string, over: string): readonly T[] {
  const from = list.findIndex((each) => each.id === id);
  const to = list.findIndex((each) => each.id === over);
  const taken = list[from];
  if (!taken || to < 0 || from === to) return list;
  const rest = list.filter((each) => each.id !== id);
  return [...rest.slice(0, to), taken, ...rest.slice(to)];
}
