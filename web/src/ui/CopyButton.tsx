import { Box, Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";

/** Copies words; where a page may not, they are shown and marked for a hand to do it. */
export function CopyButton({ label, text }: { label: string; text: string }) {
  const [said, setSaid] = useState<"copied" | "marked" | null>(null);
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (said === "marked") field.current?.select();
  }, [said]);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid("copied");
    } catch {
      setSaid("marked");
    }
  };
  return (
    <>
      <Button variant="outlined" onClick={copy}>
        {said === "copied" ? "Copied" : label}
      </Button>
      {said === "marked" && (
        <Box sx={{ flexBasis: "100%" }}>
          <Box
            component="textarea"
            ref={field}
            readOnly
            value={text}
            aria-label="Marked: copy it with your keys, or hold it"
            rows={Math.min(6, text.split("\n").length)}
            sx={{ width: "100%", font: "inherit", p: 1, color: "inherit", bgcolor: "transparent" }}
          />
          <span role="status">Marked: copy it with your keys, or hold it.</span>
        </Box>
      )}
    </>
  );
}
