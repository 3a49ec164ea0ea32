import { Box, Button, Stack, TextField } from "@mui/material";
import { useState } from "react";
import { useFormContext } from "react-hook-form";
import { type Schemas, send, useChange } from "../../api/client";
import { newId } from "../../api/newId";
import { Field } from "../../ui/Field";
import { WaterForm } from "../../waters/WaterForm";

type Draft = Schemas["BrewerDraft"];

/** The home it stands in; another is added on the way. */
export function HomeFields({ homes }: { homes: Schemas["Home"][] }) {
  const { setValue } = useFormContext<Draft>();
  const [name, setName] = useState("");
  const [id, setId] = useState(newId);
  const add = useChange(() => send.home(id, name));
  return (
    <>
      <Field<Draft>
        as="choice"
        name="home_id"
        label="Home"
        help="Where it stands"
        options={homes.map((home) => [home.id, home.name] as const)}
      />
      <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
        <TextField
          label="Another home"
          value={name}
          error={add.error !== null}
          helperText={add.error?.message ?? "If it is not in the list"}
          onChange={(e) => setName(e.target.value)}
        />
        <Button
          disabled={name.trim() === ""}
          sx={{ flexShrink: 0 }}
          onClick={() =>
            add.mutate(undefined, {
              onSuccess: (home) => {
                setValue("home_id", home.id);
                setName("");
                setId(newId());
              },
            })
          }
        >
          Add home
        </Button>
      </Stack>
    </>
  );
}

/** The water it is filled with; another is told on the way. */
export function WaterFields({ waters }: { waters: Schemas["WaterView"][] }) {
  const { setValue } = useFormContext<Draft>();
  const [adding, setAdding] = useState(waters.length === 0);
  return (
    <>
      <Field<Draft>
        as="choice"
        name="water_id"
        label="Water it is filled with"
        help="A change holds from today; the past keeps its own"
        options={waters.map(({ water, text }) => [water.id, `${water.name} – ${text}`] as const)}
      />
      {adding ? (
        <WaterForm
          onDone={(water) => {
            setValue("water_id", water.id);
            setAdding(false);
          }}
          onCancel={waters.length === 0 ? undefined : () => setAdding(false)}
        />
      ) : (
        <Box>
          <Button onClick={() => setAdding(true)}>Another water</Button>
        </Box>
      )}
    </>
  );
}
