import { Box, Button, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { FormProvider } from "react-hook-form";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { type Schemas, send } from "../../api/client";
import { newId } from "../../api/newId";
import { queries } from "../../api/queries";
import { Field } from "../../ui/Field";
import { ErrorNotice, Loading, Page } from "../../ui/Notices";
import { Resumed } from "../../ui/Resumed";
import { useSheet } from "../../ui/useSheet";
import { FigureFields, FilterFields, HabitFields } from "./FigureFields";
import { ForbiddenField } from "./ForbiddenField";
import { HeatingFields } from "./HeatingFields";
import { MechanicsFields } from "./MechanicsFields";
import { NeedleFields } from "./NeedleFields";
import { OperationFields } from "./OperationFields";
import { PartFields } from "./PartFields";
import { PlaceFields } from "./PlaceFields";
import { PodSideFields } from "./PodSideFields";
import { PolicyFields } from "./PolicyFields";
import { HomeFields, WaterFields } from "./WhereFields";

type Draft = Schemas["BrewerDraft"];

/** The whole sheet of a brewer: a new one, another like one that is known, or one to put right. */
export function BrewerSheet() {
  const id = useParams().id;
  const like = useSearchParams()[0].get("like");
  const families = useQuery(queries.families());
  const household = useQuery(queries.household());
  const brewer = useQuery(queries.brewer(id ?? ""));
  const another = useQuery(queries.anotherLike(like ?? ""));
  const first = id ? brewer.data?.draft : like ? another.data : families.data?.[0]?.draft;
  const error = families.error ?? household.error ?? (id ? brewer.error : like ? another.error : null);
  if (error) return <ErrorNotice error={error} />;
  if (!first || !families.data || !household.data) return <Loading />;
  const usual = families.data.find((f) => f.family === first.family)?.needles ?? null;
  return (
    <Sheet
      key={id ?? like ?? "new"}
      id={id}
      like={like}
      // Needles that nobody has looked at are shown as they usually are.
      first={id ? { ...first, needles: first.needles ?? usual } : first}
      families={families.data}
      household={household.data}
    />
  );
}

/** A cup that nobody has timed has no figure. */
const timed = <S extends Pick<Draft, "operation">>(side: S): S => {
  const healthy = side.operation?.healthy;
  if (!side.operation || (healthy?.seconds != null && healthy.streams != null)) return side;
  const none = healthy?.seconds == null && healthy?.streams == null;
  const half = { seconds: healthy?.seconds ?? null, streams: healthy?.streams ?? null };
  return { ...side, operation: { ...side.operation, healthy: none ? null : (half as unknown as Schemas["Healthy"]) } };
};

const tidy = (typed: Draft): Draft => ({
  ...timed(typed),
  other_side: typed.other_side ? timed(typed.other_side) : null,
});

function Sheet({
  id,
  like,
  first,
  families,
  household,
}: {
  id: string | undefined;
  like: string | null;
  first: Draft;
  families: Schemas["FamilyView"][];
  household: Schemas["HouseholdView"];
}) {
  const navigate = useNavigate();
  // Made once for each sheet, so that sending it twice adds one brewer.
  const [fresh] = useState(newId);
  const sheet = useSheet({
    key: id ?? (like ? `like-${like}` : "new"),
    first,
    save: (body: Draft) => (id ? send.changeBrewer(id, body) : send.addBrewer(fresh, body)),
    onSaved: (card) => navigate(`/brewers/${card.id}`),
    tidy,
  });
  const { form, submit, isSaving, error, isRefused } = sheet;
  const draft = form.watch();
  const side = draft.other_side;
  const isPressed = families.find((f) => f.family === draft.family)?.is_pressed ?? false;
  const become = (family: Draft["family"]) => {
    const template = families.find((f) => f.family === family)?.draft;
    if (!template) return;
    const { nickname, home_id, water_id } = draft;
    form.reset({ ...template, nickname, home_id, water_id }, { keepDefaultValues: true });
  };
  return (
    <Page title={id ? `Edit ${first.nickname}` : "Add a brewer"}>
      <FormProvider {...form}>
        <form onSubmit={submit}>
          <Stack spacing={2}>
            <Resumed sheet={sheet} />
            {!id && (
              <ToggleButtonGroup
                exclusive
                value={draft.family}
                aria-label="Kind of brewer"
                onChange={(_, family: Draft["family"] | null) => family && become(family)}
              >
                {families.map((f) => (
                  <ToggleButton key={f.family} value={f.family} sx={{ minHeight: 56, px: 2 }}>
                    {f.label}
                  </ToggleButton>
                ))}
              </ToggleButtonGroup>
            )}
            <Group title="Which one">
              <Field<Draft> name="nickname" label="Nickname" help="What you call it" />
              <HomeFields homes={household.homes} />
            </Group>
            <Group title="Water">
              <WaterFields waters={household.waters} />
            </Group>
            <Group title="Its figures">
              <FigureFields />
            </Group>
            {side && (
              <Group title="Its pod side">
                <PodSideFields />
              </Group>
            )}
            <Group title={side ? "Buttons of the carafe side" : "Buttons"}>
              <OperationFields within="operation" programme={draft.self_clean} />
            </Group>
            <Group title={side ? "What the carafe side does by itself" : "What it does by itself"}>
              <MechanicsFields within="mechanics" pressed={isPressed} />
            </Group>
            {side && (
              <Group title="Buttons of the pod side">
                <OperationFields within="other_side.operation" programme={draft.self_clean} />
              </Group>
            )}
            {side && (
              <Group title="What the pod side does by itself">
                <MechanicsFields within="other_side.mechanics" pressed />
              </Group>
            )}
            <Group title="Where things are kept">
              <PlaceFields />
            </Group>
            {id && (
              <Group title="Needles">
                <NeedleFields />
              </Group>
            )}
            {id && (
              <Group title="Parts that come off">
                <PartFields />
              </Group>
            )}
            {draft.filter && (
              <Group title="Water filter">
                <FilterFields />
              </Group>
            )}
            <Group title="When to descale">
              <PolicyFields />
            </Group>
            {id && (
              <Group title={side ? "How chalk grows in the carafe side" : "How chalk grows in it"}>
                <HeatingFields within="heating" />
              </Group>
            )}
            {id && side && (
              <Group title="How chalk grows in the pod side">
                <HeatingFields within="other_side.heating" />
              </Group>
            )}
            {household.agents.length > 0 && (
              <Group title="Forbidden by its maker">
                <ForbiddenField agents={household.agents} />
              </Group>
            )}
            <Group title="Habit">
              <HabitFields />
            </Group>
            <ErrorNotice
              error={isRefused ? new Error("Some fields need another look; they are marked in red") : error}
            />
            <Box>
              <Button type="submit" variant="contained" size="large" disabled={isSaving}>
                {id ? "Save" : "Add this brewer"}
              </Button>
            </Box>
          </Stack>
        </form>
      </FormProvider>
    </Page>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        {title}
      </Typography>
      <Box
        sx={{ display: "grid", gap: 2, pt: 1, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "1fr 1fr 1fr" } }}
      >
        {children}
      </Box>
    </Paper>
  );
}
