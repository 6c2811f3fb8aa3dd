package org.wirekettle.trigger;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.wirekettle.soap.SoapRequest;
import org.wirekettle.soap.SoapVersion;

/**
 * A request made of a sample.
 *
 * @param action the SOAPAction
 * @param envelope as text
 */
public record SoapSample(SoapVersion version, String action, String envelope) {
    private String type() {
        return version.contentType(action, StandardCharsets.UTF_8);
    }

    /** As it comes in. @throws SoapRequest.Unfit never for one that was made here */
    public HttpAsked asked(String path) throws SoapRequest.Unfit {
        byte[] body = envelope.getBytes(StandardCharsets.UTF_8);
        Map<String, List<String>> headers = Map.of("content-type", List.of(type()), "soapaction", List.of(action));
        return new HttpAsked(
                "POST",
                path,
                Map.of(),
                null,
                name -> headers.getOrDefault(name.toLowerCase(java.util.Locale.ROOT), List.of()),
                body,
                SoapRequest.read(body, envelope));
    }

    /** As a command line for a POSIX shell. @param isOpen whether it needs no key */
    public String curl(String address, boolean isOpen) {
        return "curl" + (isOpen ? "" : " -H \"Authorization: Bearer $KEY\"") + " \\\n  -H "
                + HttpSample.quoted("Content-Type: " + type()) + " \\\n  "
                + (version == SoapVersion.SOAP12
                        ? ""
                        : "-H " + HttpSample.quoted("SOAPAction: \"" + action + "\"") + " \\\n  ")
                + "-d " + HttpSample.quoted(envelope)
                + " \\\n  " + HttpSample.quoted(address);
    }
}
