import { configure } from '@testing-library/react';

// Long, as speed is the bench's: a busy machine fails nothing.
configure({ asyncUtilTimeout: 15_000 });
