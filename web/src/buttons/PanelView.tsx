import { Box } from "@mui/material";
import type { KeyboardEvent, MouseEvent, PointerEvent } from "react";
import { photoAt, type Schemas } from "../api/client";
import { controlName } from "./controlName";

type Control = Schemas["Control"];

const size: Record<Schemas["ControlShape"], { width: number; height: number; borderRadius: string }> = {
  round: { width: 56, height: 56, borderRadius: "50%" },
  square: { width: 56, height: 56, borderRadius: "8px" },
  wide: { width: 96, height: 48, borderRadius: "8px" },
};

/** Where something is touched, from 0 to 1 each way, kept off the edges. */
export function placeOf(event: PointerEvent<HTMLElement>) {
  const box = event.currentTarget.getBoundingClientRect();
  const share = (at: number, from: number, length: number) => Math.min(0.96, Math.max(0.04, (at - from) / length));
  return { x: share(event.clientX, box.left, box.width), y: share(event.clientY, box.top, box.height) };
}

/**
 * A brewer's buttons and lamps, on a drawn strip or on a photo: those in `order` are lit, with what is done to them. With
 * `onDown` they can be touched.
 */
export function PanelView({
  panel,
  order = {},
  chosen,
  label,
  onPlace,
  onDown,
  onUp,
}: {
  panel: Schemas["Panel"];
  order?: Record<string, string>;
  chosen?: string | undefined;
  label: string;
  onPlace?: ((at: { x: number; y: number }) => void) | undefined;
  onDown?: ((id: string) => void) | undefined;
  onUp?: ((id: string) => void) | undefined;
}) {
  return (
    <Box
      role={onDown || onPlace ? "group" : "img"}
      aria-label={label}
      onPointerDown={(event: PointerEvent<HTMLElement>) => {
        if (event.target === event.currentTarget || (event.target as HTMLElement).tagName === "IMG")
          onPlace?.(placeOf(event));
      }}
      sx={{
        position: "relative",
        width: "100%",
        maxWidth: 640,
        border: 2,
        borderColor: "text.primary",
        borderRadius: 2,
        overflow: "hidden",
        bgcolor: "background.default",
        height: panel.photo ? undefined : { xs: 128, md: 160 },
        // A photo that was put away leaves the buttons where they are.
        minHeight: 128,
        touchAction: "none",
        userSelect: "none",
        cursor: onPlace ? "crosshair" : undefined,
      }}
    >
      {panel.photo && (
        <Box
          component="img"
          alt=""
          src={photoAt(panel.photo)}
          draggable={false}
          sx={{ width: "100%", display: "block" }}
        />
      )}
      {panel.controls.map((control) => (
        <ControlView
          key={control.id}
          control={control}
          does={order[control.id]}
          chosen={chosen === control.id}
          onDown={onDown}
          onUp={onUp}
        />
      ))}
    </Box>
  );
}

function ControlView({
  control,
  does,
  chosen,
  onDown,
  onUp,
}: {
  control: Control;
  does: string | undefined;
  chosen: boolean;
  onDown?: ((id: string) => void) | undefined;
  onUp?: ((id: string) => void) | undefined;
}) {
  const isLamp = control.kind === "lamp";
  const lit = does !== undefined;
  const shape = size[control.shape];
  const word = control.word || (isLamp ? "" : "·");
  return (
    <Box
      component={onDown ? "button" : "div"}
      {...(onDown && { type: "button", "aria-label": controlName(control) })}
      onPointerDown={
        onDown &&
        ((event: PointerEvent<HTMLElement>) => {
          event.preventDefault();
          event.currentTarget.setPointerCapture(event.pointerId);
          onDown(control.id);
        })
      }
      onPointerUp={onUp && (() => onUp(control.id))}
      onPointerCancel={onUp && (() => onUp(control.id))}
      onKeyDown={(event: KeyboardEvent) => {
        if (event.repeat || (event.key !== "Enter" && event.key !== " ")) return;
        event.preventDefault();
        onDown?.(control.id);
      }}
      onKeyUp={(event: KeyboardEvent) => {
        if (event.key === "Enter" || event.key === " ") onUp?.(control.id);
      }}
      onContextMenu={(event: MouseEvent) => event.preventDefault()}
      sx={{
        position: "absolute",
        left: `${100 * control.x}%`,
        top: `${100 * control.y}%`,
        transform: "translate(-50%, -50%)",
        ...shape,
        ...(isLamp && { width: 44, height: 44 }),
        ...(isLamp && control.shape === "wide" && { width: 72 }),
        p: 0.25,
        font: "inherit",
        fontSize: "0.85rem",
        lineHeight: 1.05,
        fontWeight: 700,
        display: "grid",
        placeItems: "center",
        textAlign: "center",
        overflowWrap: "anywhere",
        color: lit ? "primary.contrastText" : "text.primary",
        bgcolor: lit ? "primary.main" : "background.paper",
        border: chosen ? 4 : 2,
        borderStyle: isLamp ? "dashed" : "solid",
        borderColor: chosen || lit ? "primary.main" : "text.primary",
        boxShadow: control.kind === "lit_button" ? "inset 0 0 0 4px var(--mui-palette-warning-main)" : undefined,
        cursor: onDown ? "pointer" : undefined,
        touchAction: "none",
      }}
    >
      <span>
        {control.kind === "lever" ? "↕ " : ""}
        {word}
        {does && (
          <>
            <br />
            {does}
          </>
        )}
      </span>
    </Box>
  );
}
