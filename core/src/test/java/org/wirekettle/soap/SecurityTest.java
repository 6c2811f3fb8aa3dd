package org.wirekettle.soap;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import org.testng.annotations.Test;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.xml.XmlElement;

/** What a connection adds for WS-Security, and what of it may be shown. */
public class SecurityTest {
    private static final Clock CLOCK = Clock.fixed(Instant.parse("2031-04-02T21:40:00.123Z"), ZoneOffset.UTC);

    private static String sent(Security s, byte[] envelope) {
        return new String(s.secure(envelope).sent(), StandardCharsets.UTF_8);
    }

    @Test
    public void theTokenGoesIntoTheHeaderAndThePasswordIsMaskedWhereItIsShown() {
        Security s = new Security(
                Security.Token.TEXT,
                Duration.ofMinutes(5),
                "mira & co",
                "p<w",
                SoapVersion.SOAP12.headerAttributes(true, "urn:gate"),
                CLOCK);
        for (String headers : new String[] {"", "<a/>"}) {
            byte[] envelope = Envelopes.write(SoapVersion.SOAP12, Use.LITERAL, headers, "<b/>");
            XmlElement root = XmlElement.parse("sent", sent(s, envelope));
            XmlElement security = root.children().get(0).children().get(0);
            assertEquals(
                    security.name() + " "
                            + security.attribute("{http://www.w3.org/2003/05/soap-envelope}mustUnderstand"),
                    "Security 1");
            assertEquals(security.attribute("{http://www.w3.org/2003/05/soap-envelope}role"), "urn:gate");
            assertEquals(
                    security.text(),
                    "2031-04-02T21:40:00.123Z 2031-04-02T21:45:00.123Z mira & co p<w 2031-04-02T21:40:00.123Z");
            assertEquals(root.children().get(1).children().get(0).name(), "b");
            String shown = new String(s.secure(envelope).shown(), StandardCharsets.UTF_8);
            assertTrue(shown.contains("•••") && !shown.contains("p&lt;w"), shown);
        }
    }

    @Test
    public void theDigestIsThatOfTheProfile() {
        // printf '0123456789abcdef2031-04-02T21:40:00Zsole' | openssl sha1 -binary | base64
        assertEquals(
                Security.digest("0123456789abcdef".getBytes(StandardCharsets.UTF_8), "2031-04-02T21:40:00Z", "sole"),
                "EchUfg0rpPXyZNNh1MaJY1AdaFY=");
        Security s = new Security(Security.Token.DIGEST, null, "mira", "sole", "", CLOCK);
        byte[] envelope = Envelopes.write(SoapVersion.SOAP11, Use.LITERAL, "", "<b/>");
        String first = sent(s, envelope);
        assertTrue(first.contains("#PasswordDigest") && !first.contains("sole") && !first.contains("Timestamp"), first);
        assertFalse(first.equals(sent(s, envelope)), "a nonce is used once");
    }

    @Test
    public void envelopesWrittenByHandAreSecuredToo() {
        Security s = new Security(Security.Token.NONE, Duration.ofMinutes(5), null, null, "", CLOCK);
        String plain = sent(
                s,
                "<Envelope xmlns='http://schemas.xmlsoap.org/soap/envelope/'><Header/><Body/></Envelope>"
                        .getBytes(StandardCharsets.UTF_8));
        assertTrue(
                plain.startsWith("<Envelope xmlns='http://schemas.xmlsoap.org/soap/envelope/'><Header><wsse:Security")
                        && plain.endsWith("</wsse:Security></Header><Body/></Envelope>"),
                plain);
        XmlElement.parse("plain", plain);
        assertEquals(sent(s, "no envelope".getBytes(StandardCharsets.UTF_8)), "no envelope");
    }
}
