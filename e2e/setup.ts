import { beforeAll, jest } from '@jest/globals';
import { endLeftovers } from './leftovers';

// A machine that is held up for a tenth of a second disarms a laser and skips pictures, as it should; what fails twice is a defect.
jest.retryTimes(1, { logErrorsBeforeRetry: true });
beforeAll(endLeftovers);
