import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useProgramsQuery } from '../store/api';
import { Button } from './Button';

/** A program by its name: of those that run, or typed. */
export function ProgramField({ name, choose }: { name: string; choose: (process: string) => void }) {
  const { data: programs = [] } = useProgramsQuery();
  const [typed, setTyped] = useState(name);
  return (
    <form
      className="word-editor-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed.trim()) choose(typed.trim());
      }}
    >
      <Autocomplete
        freeSolo
        options={programs}
        inputValue={typed}
        onInputChange={(_, text) => setTyped(text)}
        sx={{ width: 320 }}
        renderInput={(params) => (
          <TextField {...params} label="Name of the program, as the system lists it" size="small" autoFocus />
        )}
      />
      <Button main type="submit" disabled={!typed.trim()}>
        Take it
      </Button>
    </form>
  );
}
