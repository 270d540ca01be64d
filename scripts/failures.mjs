// What fell, as lines to print last: a long report is cut in its middle.
import { relative } from 'node:path';

const plain = (text) => (text ?? '').replace(/\u001b\[[0-9;]*m/g, '').trim();
const shortened = (text) => plain(text).replace(/\s+/g, ' ').slice(0, 400);

/** Of a report of Jest, one line a test that failed and a file that could not run. */
export const jestFailures = (report) =>
  report.testResults.flatMap(({ name, status, message, assertionResults }) => {
    const file = relative('.', name);
    const fell = assertionResults.filter((test) => test.status === 'failed');
    if (fell.length === 0) return status === 'failed' ? [`${file}: ${shortened(message)}`] : [];
    return fell.map((test) => `${file}: ${test.fullName}: ${shortened(test.failureMessages[0])}`);
  });

/** Of a report of Playwright, one line a test that failed, or passed only when it was repeated. */
export function playwrightFailures(report) {
  const inSuite = (suite, file) =>
    (suite.suites ?? [])
      .flatMap((inner) => inSuite(inner, inner.file ?? file))
      .concat(
        (suite.specs ?? []).flatMap((spec) =>
          spec.tests
            .filter((test) => test.status === 'unexpected' || test.status === 'flaky')
            .map((test) => {
              const error = test.results.find((result) => result.error)?.error;
              return `${spec.file ?? file}: ${spec.title}: ${shortened(error?.message)}`;
            }),
        ),
      );
  return inSuite(report, '').concat(report.errors.map((error) => shortened(error.message)));
}
