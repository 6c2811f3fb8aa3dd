package org.wirekettle.trigger;

import org.wirekettle.input.InputProblem;
import org.wirekettle.soap.SentFault;
import org.wirekettle.xml.Escape;

/** The faults that every published operation declares: what does not fit in a request, and what a flow did not do. */
final class SoapFaults {
    static final String NAMESPACE = "urn:wire-kettle:faults";
    static final String UNFIT = "RequestDoesNotFit";
    static final String NOT_DONE = "NotDone";

    /** Both as XML Schema. */
    static final String SCHEMA = """
        <xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="%1$s" elementFormDefault="qualified">
        <xs:element name="%2$s"><xs:annotation><xs:documentation>All that does not fit in a request.\
        </xs:documentation></xs:annotation><xs:complexType><xs:sequence>
        <xs:element name="problem" maxOccurs="unbounded"><xs:complexType><xs:sequence>
        <xs:element name="at" type="xs:string"/>
        <xs:element name="is" type="xs:string" minOccurs="0"/>
        <xs:element name="text" type="xs:string"/>
        </xs:sequence></xs:complexType></xs:element>
        </xs:sequence></xs:complexType></xs:element>
        <xs:element name="%3$s"><xs:annotation><xs:documentation>The flow did not do it, or what came of it is not \
        known.</xs:documentation></xs:annotation><xs:complexType><xs:sequence>
        <xs:element name="code" type="xs:string"/>
        <xs:element name="text" type="xs:string"/>
        <xs:element name="run" type="xs:long" minOccurs="0"/>
        <xs:element name="record" type="xs:long" minOccurs="0"/>
        </xs:sequence></xs:complexType></xs:element>
        </xs:schema>
        """.formatted(NAMESPACE, UNFIT, NOT_DONE);

    private SoapFaults() {}

    /** What is otherwise a problem document, as a fault. Whose fault it is follows from its status. */
    static SentFault of(HttpAnswer.Body problem) {
        boolean isTheirs = problem.status() < 500 && problem.run() == null;
        SentFault out = problem.status() == 401 || problem.status() == 403
                ? SentFault.notAuthentic(problem.detail())
                : isTheirs ? SentFault.sender(problem.detail()) : SentFault.receiver(problem.detail());
        return problem.problems() != null
                ? out.detailed(unfit(problem))
                : isTheirs ? out : out.detailed(notDone(problem));
    }

    private static String unfit(HttpAnswer.Body problem) {
        StringBuilder out = begun(UNFIT);
        for (InputProblem p : problem.problems()) {
            out.append("<k:problem>");
            element("at", p.at().isEmpty() ? "/" : p.at(), out);
            element("is", p.is(), out);
            element("text", p.text(), out);
            out.append("</k:problem>");
        }
        return out.append("</k:" + UNFIT + ">").toString();
    }

    private static String notDone(HttpAnswer.Body problem) {
        StringBuilder out = begun(NOT_DONE);
        element("code", problem.code(), out);
        element("text", problem.detail(), out);
        element("run", problem.run(), out);
        element("record", problem.record(), out);
        return out.append("</k:" + NOT_DONE + ">").toString();
    }

    private static StringBuilder begun(String name) {
        return new StringBuilder("<k:" + name + " xmlns:k=\"" + NAMESPACE + "\">");
    }

    private static void element(String name, Object value, StringBuilder out) {
        if (value != null) {
            out.append("<k:").append(name).append('>');
            Escape.text(String.valueOf(value), out);
            out.append("</k:").append(name).append('>');
        }
    }
}
