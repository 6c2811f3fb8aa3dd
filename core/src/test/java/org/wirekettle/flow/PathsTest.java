package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;

import org.testng.annotations.Test;

/** What a call made once a run is known by: flows that run flows each count their steps from one. */
public class PathsTest {
    @Test
    public void allPartsShareAStep() {
        assertEquals(Paths.anyPart("s3"), "s3");
        assertEquals(Paths.anyPart(Paths.part("", "s4", 12) + "s3"), "s3");
        assertEquals(Paths.anyPart(Paths.part(Paths.part("", "s4", 12), "s5", 7) + "s3"), "s3");
    }

    @Test
    public void aStepOfAnotherFlowIsAnotherStep() {
        String called = Paths.called(Paths.part("", "s4", 2), "s7");
        assertEquals(Paths.anyPart(called + "s3"), "s7()/s3");
        assertEquals(Paths.anyPart(Paths.part(called, "s1", 9) + "s3"), "s7()/s3");
    }
}
