import { Box, ButtonBase, Typography } from "@mui/material";
import type { ReactNode } from "react";

/** An answer to touch: a picture over its words. */
export function Choice({
  label,
  hint,
  chosen = false,
  onChoose,
  children,
}: {
  label: string;
  hint?: string;
  chosen?: boolean;
  onChoose: () => void;
  children?: ReactNode;
}) {
  return (
    <ButtonBase
      aria-pressed={chosen}
      onClick={onChoose}
      focusRipple
      sx={{
        display: "flex",
        flexDirection: "column",
        alignItems: "center",
        justifyContent: "flex-end",
        gap: 0.5,
        minWidth: 0,
        minHeight: 56,
        p: 1,
        overflowWrap: "anywhere",
        textAlign: "center",
        border: 2,
        borderColor: chosen ? "primary.main" : "divider",
        borderRadius: 1,
        bgcolor: "background.paper",
        // On so small a drawing its names cannot be read; they stand below it.
        "& svg text": { display: "none" },
      }}
    >
      {/* Its words tell the same. */}
      <Box aria-hidden sx={{ width: "100%", maxWidth: { xs: 104, sm: 150 } }}>
        {children}
      </Box>
      <Typography component="span" sx={{ fontWeight: 700, lineHeight: 1.2 }}>
        {label}
      </Typography>
      {hint && (
        <Typography component="span" variant="body2" color="textSecondary" sx={{ lineHeight: 1.2 }}>
          {hint}
        </Typography>
      )}
    </ButtonBase>
  );
}
