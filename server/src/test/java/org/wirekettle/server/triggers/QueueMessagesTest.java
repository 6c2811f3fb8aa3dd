package org.wirekettle.server.triggers;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNotEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.Map;
import org.testng.annotations.Test;
import org.wirekettle.connector.queue.QueueMessage;

/** What a message is known by when it comes again. */
public class QueueMessagesTest {
    private static String key(String id, String body, Map<String, String> properties, int deliveries) {
        return QueueMessages.key(new QueueMessage(
                id, null, null, null, null, deliveries, properties, body.getBytes(StandardCharsets.UTF_8), true, null));
    }

    @Test
    public void itIsItsIdAndWhatItSays() {
        String one = key("ID:1", "a", Map.of("p", "1"), 1);
        assertEquals(key("ID:1", "a", Map.of("p", "1"), 4), one, "delivered again, it is the same");
        assertNotEquals(key("ID:2", "a", Map.of("p", "1"), 1), one);
        assertNotEquals(key("ID:1", "b", Map.of("p", "1"), 1), one, "an id that is used twice tells nothing");
        assertNotEquals(key("ID:1", "a", Map.of("p", "2"), 1), one);
        assertNull(key(null, "a", Map.of(), 1));
    }

    /** Others name messages by whatever: a key fits an index, and has no sign that a text cannot have. */
    @Test
    public void noIdIsTooOddOrTooLong() {
        assertTrue(key("ID:\u0000" + "x".repeat(1_000_000), "a", Map.of(), 1).matches("[0-9a-f]{64}"));
    }
}
