import "@mantine/core/styles/baseline.css";
import "@mantine/core/styles/default-css-variables.css";
import "@mantine/core/styles/global.css";
import "@mantine/core/styles/UnstyledButton.css";
import "@mantine/core/styles/Popover.css";
import "@mantine/core/styles/Menu.css";
import "@mantine/core/styles/ScrollArea.css";
import "@mantine/core/styles/Overlay.css";
import "@mantine/core/styles/ModalBase.css";
import "@mantine/core/styles/Modal.css";
import "@mantine/core/styles/Paper.css";
import "@mantine/core/styles/CloseButton.css";
import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "../theme/base.css";
import "../theme/layout.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Providers } from "./providers";

const root = document.getElementById("root");
if (root === null) throw new Error("The page has no root element.");
createRoot(root).render(
  <StrictMode>
    <Providers />
  </StrictMode>,
);
