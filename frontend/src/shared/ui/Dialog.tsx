import { Modal } from "@mantine/core";
import type { ReactNode } from "react";
import classes from "./Dialog.module.css";

/** A dialog over the page. Its head is a plain div: the page has its one banner already. */
export function Dialog({ opened, onClose, title, size = "md", children }: {
  opened: boolean;
  onClose: () => void;
  title: string;
  size?: string;
  children: ReactNode;
}) {
  return (
    <Modal.Root opened={opened} onClose={onClose} size={size} transitionProps={{ duration: 0 }}>
      <Modal.Overlay />
      <Modal.Content>
        <div className={classes.head}>
          <Modal.Title>{title}</Modal.Title>
          <Modal.CloseButton aria-label={`Close ${title.toLowerCase()}`} />
        </div>
        <Modal.Body pt={8}>{children}</Modal.Body>
      </Modal.Content>
    </Modal.Root>
  );
}
