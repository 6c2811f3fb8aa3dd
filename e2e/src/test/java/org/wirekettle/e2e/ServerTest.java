package org.wirekettle.e2e;

import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.wirekettle.demo.DemoServer;

/** What tests over HTTP share: a server with a database of its own, logged in to, and the simulated services. */
abstract class ServerTest {
    protected WireKettle wk;
    protected DemoServer services;

    @BeforeClass
    public void startServer() throws Exception {
        services = TideFlow.services(0, 0);
        wk = new WireKettle(getClass().getSimpleName().toLowerCase(java.util.Locale.ROOT)).logIn();
        prepare();
    }

    /** What a class wants in the project before its tests. */
    protected void prepare() throws Exception {
        // an empty project
    }

    @AfterClass(alwaysRun = true)
    public final void stopServer() throws Exception {
        if (wk != null) {
            wk.close();
        }
        if (services != null) {
            services.close();
        }
    }
}
