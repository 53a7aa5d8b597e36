import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css';
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';
import { ChakraProvider } from '@chakra-ui/react';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { SWRConfig } from 'swr';
import { readAhead } from './ahead';
import { NoAnswer } from './api/client';
import { read } from './api/held';
import { hearOfSignOuts } from './api/ownStore';
import { Places } from './routes';
import { applyColorMode } from './theme/colorMode';
import { system } from './theme/system';

readAhead(window.location.pathname);
applyColorMode();
hearOfSignOuts();

const root = document.getElementById('root');
if (!root) throw new Error('the page has no root');

createRoot(root).render(
  <StrictMode>
    <ChakraProvider value={system}>
      <SWRConfig
        value={{
          fetcher: read,
          revalidateOnFocus: false,
          revalidateIfStale: false,
          // What the server refused it would refuse again; what it did not answer, it may.
          shouldRetryOnError: (error) => error instanceof NoAnswer,
          errorRetryInterval: 2000,
        }}
      >
        <BrowserRouter>
          <Places />
        </BrowserRouter>
      </SWRConfig>
    </ChakraProvider>
  </StrictMode>,
);
