package org.wirekettle.e2e;

import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;

/** A test with a browser of its own, which is closed after it; of a failure there is a picture. */
public abstract class BrowserTest {
    protected Browser b;

    @AfterMethod(alwaysRun = true)
    public void end(ITestResult result) throws Exception {
        if (b != null) {
            Browser done = b;
            b = null;
            done.close(result);
        }
    }
}
