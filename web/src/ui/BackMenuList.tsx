import { MenuList, type MenuListProps, useForkRef } from "@mui/material";
import { useRef } from "react";
import { useBack } from "./back";

/** The choices of an open menu, which Back closes as Escape does. */
export function BackMenuList({ ref, ownerState: _, ...props }: MenuListProps & { ownerState?: object }) {
  const list = useRef<HTMLUListElement>(null);
  useBack(() => list.current?.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape", bubbles: true })));
  return <MenuList ref={useForkRef(list, ref ?? null)} {...props} />;
}
