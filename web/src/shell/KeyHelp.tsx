import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useState } from "react";
import { KEY_HELP, plainKeysOn, setPlainKeys } from "./keys";

/** The list of keys, and the switch for the plain ones. */
export function KeyHelp({ onClose }: { onClose: () => void }) {
  const [on, setOn] = useState(plainKeysOn);
  return (
    <Dialog open onClose={onClose} aria-labelledby="keys-title">
      <div className="dialog">
        <h2 id="keys-title">Keys</h2>
        <table>
          <tbody>
            {KEY_HELP.map(([key, words]) => (
              <tr key={key}>
                <td>
                  <kbd>{key}</kbd>
                </td>
                <td>{words}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <FormControlLabel
          control={
            <Checkbox
              checked={on}
              onChange={(e) => {
                setOn(e.target.checked);
                setPlainKeys(e.target.checked);
              }}
            />
          }
          label="Plain keys act outside text fields. With Alt they always act."
        />
        <Button autoFocus onClick={onClose}>
          Close
        </Button>
      </div>
    </Dialog>
  );
}
