import { createContext, type CSSProperties } from "react";

/** A colour of a ground and its grey. */
export interface Ground {
  hex: string;
  grey: string;
}

/** The paper at hand, for what lies behind patches that are not on a paper of their own. */
export const PaperGround = createContext<Ground>({ hex: "#ffffff", grey: "#ffffff" });

/**
 * A ground as the style sheet takes it. These properties are not inherited (theme/base.css): whoever shows a ground
 * says it, so that another paper restyles the marks and nothing else.
 */
export function behind({ hex, grey }: Ground): CSSProperties {
  return { "--ground": hex, "--ground-grey": grey } as CSSProperties;
}
