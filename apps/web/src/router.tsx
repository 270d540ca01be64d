import { createBrowserRouter } from 'react-router';
import { Shell } from './places/shell/Shell';
import { SetupFrame } from './places/shell/SetupFrame';
import { LostPlace } from './places/shell/LostPlace';
import { StartPlace } from './places/start/StartPlace';
import { SetupsPlace } from './places/setups/SetupsPlace';
import { BriefPlace } from './places/brief/BriefPlace';
import { CardPlace } from './places/card/CardPlace';
import { MachinePlace } from './places/machine/MachinePlace';
import { PathPlace } from './places/path/PathPlace';
import { SoundPlace } from './places/sound/SoundPlace';
import { TrialsPlace } from './places/trials/TrialsPlace';
import { RollPlace } from './places/roll/RollPlace';
import { TakesPlace } from './places/takes/TakesPlace';
import { TakePlace } from './places/take/TakePlace';

export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <LostPlace />,
    children: [
      { path: '/', element: <StartPlace /> },
      { path: '/setups', element: <SetupsPlace /> },
      {
        path: '/setups/:setupId',
        element: <SetupFrame />,
        children: [
          { path: 'brief', element: <BriefPlace /> },
          { path: 'path', element: <PathPlace /> },
          { path: 'sound', element: <SoundPlace /> },
          { path: 'card', element: <CardPlace /> },
          { path: 'trials', element: <TrialsPlace /> },
          { path: 'roll', element: <RollPlace /> },
        ],
      },
      { path: '/takes', element: <TakesPlace /> },
      { path: '/takes/:takeId', element: <TakePlace /> },
      { path: '/machine', element: <MachinePlace /> },
      { path: '*', element: <LostPlace /> },
    ],
  },
]);
