import { Modal } from "@mantine/core";
import type { ReactNode } from "react";
import classes from "./Whole.module.css";

/** What fills the whole window, and nothing else is on it. */
export function Whole({ opened, title, onClose, held = false, children }: {
  opened: boolean;
  title: string;
  onClose: () => void;
  held?: boolean;
  children: ReactNode;
}) {
  return (
    <Modal.Root opened={opened} onClose={onClose} fullScreen closeOnEscape={!held} transitionProps={{ duration: 0 }} classNames={{ body: classes.body ?? "" }}>
      <Modal.Content aria-label={title}>
        <Modal.Body>{children}</Modal.Body>
      </Modal.Content>
    </Modal.Root>
  );
}
