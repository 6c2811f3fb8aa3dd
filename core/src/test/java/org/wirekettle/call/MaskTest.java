package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertSame;
import static org.testng.Assert.assertTrue;

import java.net.URLEncoder;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import org.testng.annotations.Test;

/** Secrets are hidden by their value, however a service writes them back. */
public class MaskTest {
    private static final String SECRET = "p&ss<w\"rd'9/ü";
    private static final Mask MASK = Mask.of("mira", SECRET);

    private static String base64(String s) {
        return Base64.getEncoder().encodeToString(s.getBytes(StandardCharsets.UTF_8));
    }

    @Test
    public void itIsFoundInEveryWayOfWriting() {
        for (String written : List.of(
                SECRET,
                "p&amp;ss&lt;w\"rd'9/ü",
                "p&amp;ss&lt;w&quot;rd'9/ü",
                "p&amp;amp;ss&amp;lt;w\"rd'9/ü",
                "p&amp;amp;amp;ss&amp;amp;lt;w\"rd'9/ü",
                "p&amp;ss&lt;w&quot;rd&apos;9/ü",
                "p&amp;ss&lt;w&#34;rd&#39;9/ü",
                "p&ss<w\\\"rd'9\\/ü",
                "p&ss<w\\\"rd'9/ü",
                URLEncoder.encode(SECRET, StandardCharsets.UTF_8),
                base64(SECRET),
                base64("mira:" + SECRET))) {
            for (Charset c : List.of(
                    StandardCharsets.UTF_8,
                    StandardCharsets.UTF_16LE,
                    StandardCharsets.UTF_16BE,
                    StandardCharsets.ISO_8859_1)) {
                String hidden = new String(MASK.hide(("<a>before " + written + " after</a>").getBytes(c)), c);
                assertFalse(hidden.contains(written), written + " in " + c);
                assertTrue(hidden.startsWith("<a>before ") && hidden.endsWith(" after</a>"), hidden);
            }
        }
    }

    @Test
    public void whatDoesNotHaveItIsLeftAlone() {
        byte[] message = "<a>nothing of the kind</a>".getBytes(StandardCharsets.UTF_8);
        assertSame(MASK.hide(message), message);
        assertSame(Mask.of("mira", "").hide(message), message);
        assertSame(Mask.of(null, null), Mask.NONE);
    }

    @Test
    public void namesOfElementsAndAttributesStay() {
        Mask m = Mask.of("u", "soap");
        assertEquals(
                m.hide("<soap:Envelope soap=\"soap\"><a>soap</a></soap:Envelope>"),
                "<soap:Envelope soap=\"•••\"><a>•••</a></soap:Envelope>");
    }

    @Test
    public void aShortSecretIsHiddenWhereItStandsAlone() {
        assertEquals(Mask.of("u", "ab").hide("<t>ab</t> cab able \"ab\""), "<t>•••</t> cab able \"•••\"");
    }

    @Test
    public void anExchangeIsShownWithoutItInBothDirections() {
        byte[] echo = ("<e>" + base64("mira:" + SECRET) + "</e>").getBytes(StandardCharsets.UTF_8);
        Exchange x = new Exchange(
                Exchange.Outcome.ANSWERED,
                "http://x",
                List.of(),
                echo,
                200,
                List.<String[]>of(new String[] {"X-Echo", SECRET}),
                echo,
                "said " + SECRET,
                null,
                1,
                1,
                Way.UNKNOWN,
                MASK);
        Exchange shown = x.shown();
        String all = new String(shown.request(), StandardCharsets.UTF_8)
                + new String(shown.answer(), StandardCharsets.UTF_8)
                + shown.answerHeaders().get(0)[1]
                + shown.problem();
        assertEquals(all, "<e>•••</e><e>•••</e>•••said •••");
        assertSame(x.answer(), echo, "what is picked from is as it came");
    }
}
