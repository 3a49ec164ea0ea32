import {
  Box,
  Button,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableContainer,
  TableHead,
  TableRow,
  Typography,
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
  const isChosen = (bath: Schemas["Alternative"]) =>
    bath.agent_id === chosen.agent_id &&
    bath.baths === chosen.baths &&
    JSON.stringify(bath.recipe) === JSON.stringify(chosen.recipe);
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
            <TableContainer tabIndex={0} role="region" aria-label="Baths side by side">
              <Table size="small">
                <TableHead>
                  <TableRow>
                    {[
                      "Bath",
                      "Amounts",
                      "Strength",
                      "Chalk fills",
                      "Soak",
                      "Rinses",
                      "Your time of all",
                      "Price",
                      "",
                    ].map((title) => (
                      <TableCell key={title}>{title}</TableCell>
                    ))}
                  </TableRow>
                </TableHead>
                <TableBody>
                  {alternatives.map((bath) => (
                    <TableRow key={`${bath.agent_id} ${bath.recipe_label}`} selected={isChosen(bath)}>
                      <TableCell component="th" scope="row" sx={{ minWidth: 170 }}>
                        {bath.baths > 1 && `${bath.baths} × `}
                        {bath.agent_name},{" "}
                        <Box component="span" sx={{ whiteSpace: "nowrap" }}>
                          {bath.recipe_label}
                        </Box>
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
                      </TableCell>
                      <TableCell sx={{ minWidth: 120 }}>
                        {bath.amounts}, in {bath.dispenses} {bath.dispenses === 1 ? "dispense" : "dispenses"}
                      </TableCell>
                      <TableCell>
                        {bath.percent.toFixed(1)} %, pH {bath.ph.toFixed(1)}
                      </TableCell>
                      <TableCell>{Math.round(bath.load_percent)} %</TableCell>
                      <TableCell sx={{ whiteSpace: "nowrap" }}>{bath.soak_text}</TableCell>
                      <TableCell>
                        {bath.rinses}, {bath.rinse_water}
                      </TableCell>
                      <TableCell>{bath.time_text}</TableCell>
                      <TableCell>{bath.cost_text || "–"}</TableCell>
                      <TableCell>
                        {isChosen(bath) ? (
                          "chosen"
                        ) : (
                          <Button
                            size="small"
                            aria-label={`Take ${bath.agent_name}, ${bath.recipe_label}`}
                            onClick={() => onTake(bath)}
                          >
                            Take
                          </Button>
                        )}
                      </TableCell>
                    </TableRow>
                  ))}
                </TableBody>
              </Table>
            </TableContainer>
          </>
        )}
      </Ready>
    </Paper>
  );
}
