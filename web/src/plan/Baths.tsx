import {
  Box,
  Button,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableContainer,
  TableHead,
  TableRow,
  Typography,
  useMediaQuery,
} from "@mui/material";
import { type Schemas, useBaths } from "../api/client";
import { Ready } from "../ui/Notices";

/** Every agent and recipe for the same clean, to read across; any of them can be taken. */
export function Baths({
  id,
  chosen,
  wishes,
  onTake,
}: {
  id: string;
  chosen: Schemas["Chosen"];
  wishes: Schemas["PlanOptions"];
  onTake: (bath: Schemas["Alternative"]) => void;
}) {
  const narrow = useMediaQuery((theme) => theme.breakpoints.down("sm"));
  const isChosen = (bath: Schemas["Alternative"]) =>
    bath.agent_id === chosen.agent_id && JSON.stringify(bath.recipe) === JSON.stringify(chosen.recipe);
  return (
    <Paper component="section" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        Baths side by side
      </Typography>
      <Ready query={useBaths(id, wishes)}>
        {({ alternatives, because }) => (
          <>
            <Typography sx={{ mb: 1 }}>
              <strong>Murlo would take: </strong>
              {because}
            </Typography>
            {narrow ? (
              <Stack component="ul" spacing={1} sx={{ listStyle: "none", p: 0, m: 0 }}>
                {alternatives.map((bath) => (
                  <Box
                    component="li"
                    key={`${bath.agent_id} ${bath.recipe_label}`}
                    sx={{
                      p: 1.5,
                      border: isChosen(bath) ? 3 : 1,
                      borderColor: isChosen(bath) ? "primary.main" : "divider",
                      borderRadius: 1,
                    }}
                  >
                    <Name bath={bath} />
                    <Typography variant="body2">
                      {bath.amounts}, in {dispenses(bath)}; {strength(bath)}
                    </Typography>
                    <Typography variant="body2">
                      Soak {bath.soak_text}, leaves {leaves(bath)}; rinses: {bath.rinses}; {bath.time_text}
                      {bath.cost_text && `; ${bath.cost_text}`}
                    </Typography>
                    <Take bath={bath} isChosen={isChosen(bath)} onTake={onTake} />
                  </Box>
                ))}
              </Stack>
            ) : (
              <TableContainer tabIndex={0} role="region" aria-label="Baths side by side">
                <Table size="small">
                  <TableHead>
                    <TableRow>
                      {["Bath", "Amounts", "Strength", "Soak", "Leaves", "Rinses", "Your time of all", "Price", ""].map(
                        (title) => (
                          <TableCell key={title}>{title}</TableCell>
                        ),
                      )}
                    </TableRow>
                  </TableHead>
                  <TableBody>
                    {alternatives.map((bath) => (
                      <TableRow key={`${bath.agent_id} ${bath.recipe_label}`} selected={isChosen(bath)}>
                        <TableCell component="th" scope="row" sx={{ minWidth: 170 }}>
                          <Name bath={bath} />
                        </TableCell>
                        <TableCell sx={{ minWidth: 120 }}>
                          {bath.amounts}, in {dispenses(bath)}
                        </TableCell>
                        <TableCell>{strength(bath)}</TableCell>
                        <TableCell sx={{ whiteSpace: "nowrap" }}>{bath.soak_text}</TableCell>
                        <TableCell sx={{ whiteSpace: "nowrap" }}>{leaves(bath)}</TableCell>
                        <TableCell>
                          {bath.rinses}, {bath.rinse_water}
                        </TableCell>
                        <TableCell>{bath.time_text}</TableCell>
                        <TableCell>{bath.cost_text || "–"}</TableCell>
                        <TableCell>
                          <Take bath={bath} isChosen={isChosen(bath)} onTake={onTake} />
                        </TableCell>
                      </TableRow>
                    ))}
                  </TableBody>
                </Table>
              </TableContainer>
            )}
          </>
        )}
      </Ready>
    </Paper>
  );
}

type Alternative = Schemas["Alternative"];

const dispenses = (bath: Alternative) => `${bath.dispenses} ${bath.dispenses === 1 ? "dispense" : "dispenses"}`;
const leaves = (bath: Alternative) => `${Math.round(bath.left_percent)} % of limit`;
const strength = (bath: Alternative) => `${bath.percent.toFixed(1)} %, pH ${bath.ph.toFixed(1)}`;

function Name({ bath }: { bath: Alternative }) {
  return (
    <>
      <strong>
        {bath.agent_name},{" "}
        <Box component="span" sx={{ whiteSpace: "nowrap" }}>
          {bath.recipe_label}
        </Box>
      </strong>
      {bath.baths > 1 && <Typography variant="body2">likely {bath.baths} baths</Typography>}
      {bath.against && (
        <Typography variant="body2" color="warning">
          {bath.against}
        </Typography>
      )}
      {bath.recommended && (
        <Typography variant="body2" color="success">
          Murlo would take this
        </Typography>
      )}
    </>
  );
}

function Take({
  bath,
  isChosen,
  onTake,
}: {
  bath: Alternative;
  isChosen: boolean;
  onTake: (bath: Alternative) => void;
}) {
  if (isChosen) return "chosen";
  return (
    <Button size="small" aria-label={`Take ${bath.agent_name}, ${bath.recipe_label}`} onClick={() => onTake(bath)}>
      Take
    </Button>
  );
}
