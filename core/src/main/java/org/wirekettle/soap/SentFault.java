package org.wirekettle.soap;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.xml.Escape;

/**
 * A fault that is answered (SOAP 1.1 §4.4, SOAP 1.2 part 1 §5.4).
 *
 * @param code whose fault it is
 * @param own a code that says more; null for none
 * @param reason for people
 * @param detail an element as XML that declares its own prefixes; empty for none
 * @param headers likewise, header blocks that go with it
 * @param version of the message that is answered; null while that is not known
 */
public record SentFault(
        Code code,
        @Nullable QualifiedName own,
        String reason,
        String detail,
        String headers,
        @Nullable SoapVersion version) {
    /** Whose fault it is, as both versions name it. */
    public enum Code {
        SENDER("Client", "Sender"),
        RECEIVER("Server", "Receiver"),
        VERSION_MISMATCH("VersionMismatch", "VersionMismatch"),
        MUST_UNDERSTAND("MustUnderstand", "MustUnderstand");

        private final String in11;
        private final String in12;

        Code(String in11, String in12) {
            this.in11 = in11;
            this.in12 = in12;
        }
    }

    public static SentFault sender(String reason) {
        return new SentFault(Code.SENDER, null, reason, "", "", null);
    }

    public static SentFault receiver(String reason) {
        return new SentFault(Code.RECEIVER, null, reason, "", "", null);
    }

    /** SOAP 1.2 part 1 §5.4.7: it says which versions there are. */
    public static SentFault version(String reason) {
        StringBuilder upgrade = new StringBuilder("<e:Upgrade xmlns:e=\"" + SoapVersion.SOAP12.namespace() + "\">");
        for (SoapVersion v : SoapVersion.values()) {
            upgrade.append("<e:SupportedEnvelope xmlns:v=\"")
                    .append(v.namespace())
                    .append("\" qname=\"v:Envelope\"/>");
        }
        return new SentFault(
                Code.VERSION_MISMATCH,
                null,
                reason,
                "",
                upgrade.append("</e:Upgrade>").toString(),
                null);
    }

    /** SOAP 1.2 part 1 §5.4.8. */
    static SentFault notUnderstood(List<QualifiedName> headers) {
        StringBuilder out = new StringBuilder();
        for (QualifiedName h : headers) {
            out.append("<e:NotUnderstood xmlns:e=\"")
                    .append(SoapVersion.SOAP12.namespace())
                    .append("\" xmlns:h=\"")
                    .append(Escape.xml(h.namespace()))
                    .append("\" qname=\"h:")
                    .append(h.local())
                    .append("\"/>");
        }
        String names =
                String.join(", ", headers.stream().map(QualifiedName::local).toList());
        return new SentFault(
                Code.MUST_UNDERSTAND, null, "Not understood here: " + names + ".", "", out.toString(), null);
    }

    /** One of a standard beside SOAP, such as WSS 1.1 §12. */
    public static SentFault standard(String code, String namespace, String reason) {
        return new SentFault(Code.SENDER, new QualifiedName(namespace, code), reason, "", "", null);
    }

    /** Who asks cannot be known, or is nobody who may (WSS 1.1 §12). */
    public static SentFault notAuthentic(String reason) {
        return standard("FailedAuthentication", SecurityDom.WSSE, reason);
    }

    public SentFault as(SoapVersion of) {
        return new SentFault(code, own, reason, detail, headers, of);
    }

    public SentFault detailed(String xml) {
        return new SentFault(code, own, reason, xml, headers, version);
    }

    /** With header blocks beside those it has. */
    public SentFault with(String more) {
        return new SentFault(code, own, reason, detail, headers + more, version);
    }

    /** The envelope, in UTF-8. @param usual where the version of what was asked is not known */
    public byte[] write(SoapVersion usual) {
        SoapVersion v = version == null ? usual : version;
        StringBuilder out = new StringBuilder("<f:Fault xmlns:f=\"" + v.namespace() + "\">");
        if (v == SoapVersion.SOAP11) {
            // A code of another standard stands in place of SOAP's own (SOAP 1.1 §4.4.1).
            out.append(own == null ? "<faultcode>f:" + code.in11 : named("faultcode"));
            out.append("</faultcode><faultstring>");
            Escape.text(reason, out);
            out.append("</faultstring>");
            if (!detail.isEmpty()) {
                out.append("<detail>").append(detail).append("</detail>");
            }
        } else {
            out.append("<f:Code><f:Value>f:").append(code.in12).append("</f:Value>");
            if (own != null) {
                out.append("<f:Subcode>").append(named("f:Value")).append("</f:Value></f:Subcode>");
            }
            out.append("</f:Code><f:Reason><f:Text xml:lang=\"en\">");
            Escape.text(reason, out);
            out.append("</f:Text></f:Reason>");
            if (!detail.isEmpty()) {
                out.append("<f:Detail>").append(detail).append("</f:Detail>");
            }
        }
        // SOAP 1.1 knows neither of the headers that say more of a version or of what was not understood.
        String said = v == SoapVersion.SOAP12 || code == Code.SENDER || code == Code.RECEIVER ? headers : "";
        return Envelopes.write(v, Use.LITERAL, said, out.append("</f:Fault>").toString());
    }

    private String named(String element) {
        return "<" + element + " xmlns:c=\"" + Escape.xml(own.namespace()) + "\">c:" + own.local();
    }

    /** Of HTTP (SOAP 1.1 §6.2, SOAP 1.2 part 2 §7.5.2.2). */
    public int status(SoapVersion usual) {
        SoapVersion v = version == null ? usual : version;
        return v == SoapVersion.SOAP12 && code == Code.SENDER ? 400 : 500;
    }
}
