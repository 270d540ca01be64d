import '@fontsource-variable/figtree';
import '@fontsource-variable/jetbrains-mono';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router';
import './theme/base.css';
import { router } from './router';
import { connectLive } from './store/liveConnection';
import { createStore } from './store/store';
import { theme } from './theme/theme';

const store = createStore();
connectLive(store);
const root = document.getElementById('root');
if (!root) throw new Error('The page has no place to draw into.');
createRoot(root).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <Provider store={store}>
        <RouterProvider router={router} />
      </Provider>
    </ThemeProvider>
  </StrictMode>,
);
