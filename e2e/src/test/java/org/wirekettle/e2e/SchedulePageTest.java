package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import org.openqa.selenium.Keys;
import org.testng.annotations.Test;

/** In the browser: a flow is scheduled, paused, and taken off again. */
public class SchedulePageTest extends BrowserTest {
    @Test
    public void aFlowRunsByItself() throws Exception {
        try (WireKettle wk = new WireKettle("schedules").logIn()) {
            TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
            wk.post(
                            "/api/flows",
                            "{\"name\":\"Watch\",\"definition\":{\"format\":2,\"steps\":["
                                    + "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"port_calls\"}]}}")
                    .expect(200);
            b = new Browser();
            b.logIn(wk);
            b.click("//nav//a[contains(., 'Published')]");
            b.button("Add a schedule");
            b.type("#schedule-name", "each quarter");
            b.choose("flow", "Watch");
            b.replace("[aria-label=cron]", "61 * * * *");
            b.says("This is no cron");
            b.replace("[aria-label=cron]", "*/15 6-20 * * *");
            b.replace("[aria-label='time zone']", "Europe/Oslo");
            b.find("//ol[@aria-label='next times']/li[10]");
            b.replace("#schedule-days", "2031-12-24 2031-13-01");
            b.says("is no day off");
            b.replace("#schedule-days", "2031-12-24/2031-12-26");
            b.click("//label[contains(., 'every so many minutes')]");
            b.says("every 15 minutes");
            b.button("Keep");
            b.find("//tr[contains(., 'each quarter') and contains(., 'Watch')]//*[contains(@class, 'st ok')]");
            assertEquals(
                    wk.get("/api/triggers/each%20quarter")
                            .expect(200)
                            .get("settings")
                            .get("daysOff")
                            .toString(),
                    "[\"2031-12-24/2031-12-26\"]");
            b.replace("#schedule-days", "2031-12-26");
            b.button("Pause");
            b.find("//tr[contains(., 'paused by admin')]");
            // A change that began before goes on being paused, and another of that name cannot take its place.
            b.replace("#schedule-days", "2031-12-25");
            b.button("Keep");
            b.gone("//button[.='Keep']");
            b.find("//tr[contains(., 'paused by admin')]");
            b.button("Add a schedule");
            b.type("#schedule-name", "each quarter");
            b.says("there is a schedule of this name");
            b.find("//button[contains(., 'Keep') and @disabled]");
            b.click("//tr[contains(., 'each quarter')]//a");
            b.button("Go on");
            b.find("//tr[contains(., 'each quarter')]//*[contains(@class, 'st ok')]");
            wk.execute("UPDATE scheduled_tasks SET execution_time = now()");
            b.find("//section[@aria-label='schedule']//a[starts-with(., 'run ')]");
            b.button("Remove");
            b.says("Nothing is published yet");
            b.click("//button[.='undo']");
            b.find("//tr[contains(., 'each quarter')]");
            b.keys(Keys.ESCAPE);
        }
    }
}
