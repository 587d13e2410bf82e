import { memo } from "react";

/**
 * A drawing of the core's own making; its words are escaped there. Without a label it only repeats what stands beside it. The page
 * takes it in anew whenever this is drawn, so that is only when it is another.
 */
export const Drawing = memo(function Drawing({ svg, label, className = "" }: { svg: string; label?: string; className?: string }) {
  return (
    <div
      className={className}
      {...(label === undefined ? { "aria-hidden": true } : { role: "img", "aria-label": label })}
      // biome-ignore lint/security/noDangerouslySetInnerHtml: made by the core, which escapes all words
      dangerouslySetInnerHTML={{ __html: svg }}
    />
  );
});
