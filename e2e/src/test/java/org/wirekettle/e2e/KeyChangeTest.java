package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Base64;
import org.testng.annotations.Test;

/** The key of secrets is changed: what the old one sealed is sealed anew at the start, and the old one taken away. */
public class KeyChangeTest {
    private static String key(int of) {
        byte[] key = new byte[32];
        Arrays.fill(key, (byte) of);
        return Base64.getEncoder().encodeToString(key);
    }

    private static String probed(WireKettle wk) throws Exception {
        return wk.post("/api/connections/harbour/probe?environment=test", "{}")
                .raw()
                .body();
    }

    @Test
    public void anOlderKeyIsNeededUntilTheServerHasStartedWithTheNewOne() throws Exception {
        try (WireKettle wk = new WireKettle("keys").logIn()) {
            TideFlow.harbour(wk);
            String first = wk.get("/api/secrets").expect(200).get("key").asText();
            Path file = wk.home().resolve("secret.key");
            String old = Base64.getEncoder().encodeToString(Files.readAllBytes(file));
            wk.kill();
            Files.writeString(file, key(7) + "\n" + old + "\n");
            wk.start();
            wk.logIn();
            JsonNode both = wk.get("/api/secrets").expect(200);
            assertEquals(
                    both.get("olderKeys").asInt() + " " + both.get("unreadable").asInt(), "1 0");
            assertTrue(!both.get("key").asText().equals(first), "another key is today's");
            wk.kill();
            Files.writeString(file, key(7) + "\n");
            wk.start();
            wk.logIn();
            assertEquals(wk.get("/api/secrets").expect(200).get("unreadable").asInt(), 0);
            assertTrue(probed(wk).contains("PostgreSQL"), probed(wk));
            wk.kill();
            Files.writeString(file, key(8) + "\n");
            wk.start();
            wk.logIn();
            assertEquals(wk.get("/api/secrets").expect(200).get("unreadable").asInt(), 1, "a key that is lost is told");
            assertTrue(probed(wk).contains("The secret harbour cannot be read any more"), probed(wk));
            TideFlow.harbour(wk);
            assertTrue(probed(wk).contains("PostgreSQL"), "given anew it is there again");
        }
    }
}
