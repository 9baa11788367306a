/** Drawers and full screens over a page: the component library's, which Back closes too. */
import { Dialog, type DialogProps, Drawer, type DrawerProps } from "@mui/material";
import { useBack } from "./back";

type Closed<P> = Omit<P, "open" | "onClose"> & { onClose: () => void };

/** Something to see to, from the edge of the screen. It is there while it is open. */
export function LayerDrawer({ onClose, ...more }: Closed<DrawerProps>) {
  useBack(onClose);
  return <Drawer open onClose={onClose} {...more} />;
}

/** The same in the middle of the screen, or over all of it. */
export function LayerDialog({ onClose, ...more }: Closed<DialogProps>) {
  useBack(onClose);
  return <Dialog open onClose={onClose} {...more} />;
}
