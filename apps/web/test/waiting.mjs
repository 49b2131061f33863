import { configure } from '@testing-library/react';

// A busy machine takes its time: what is waited for may take as long as a whole test.
configure({ asyncUtilTimeout: 60_000 });
