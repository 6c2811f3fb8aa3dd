package org.wirekettle.shape;

import java.util.Map;
import java.util.Set;

/** Our own short stand-ins for schemas that everybody refers to and hardly anybody ships. */
final class WellKnownSchemas {
    private static final String SOAP_ENCODING = XmlSchemas.SOAP_ENCODING;
    private static final String XML = "http://www.w3.org/XML/1998/namespace";
    private static final String ADDRESSING = "http://www.w3.org/2005/08/addressing";

    private static final String[] ENCODED = {
        "string",
        "boolean",
        "decimal",
        "float",
        "double",
        "duration",
        "dateTime",
        "time",
        "date",
        "hexBinary",
        "base64Binary",
        "anyURI",
        "QName",
        "integer",
        "long",
        "int",
        "short",
        "byte",
        "unsignedInt",
        "unsignedShort",
        "unsignedByte",
        "unsignedLong",
        "positiveInteger",
        "nonNegativeInteger",
        "negativeInteger",
        "nonPositiveInteger",
        "token",
        "normalizedString",
        "language",
        "Name",
        "NCName",
        "gYear",
        "gYearMonth"
    };

    private static final String OLD_ADDRESSING = "http://schemas.xmlsoap.org/ws/2004/08/addressing";
    private static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";
    private static final String SOAP12 = "http://www.w3.org/2003/05/soap-envelope";
    private static final String WSDL = "http://schemas.xmlsoap.org/wsdl/";
    private static final String MIME = "http://www.w3.org/2005/05/xmlmime";
    private static final String ATTACHMENT_REFERENCE = "http://ws-i.org/profiles/basic/1.1/xsd";
    private static final String SIGNATURE = "http://www.w3.org/2000/09/xmldsig#";
    private static final String SECURITY =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd";
    private static final String SECURITY_UTILITY =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd";

    private static final Map<String, String> TEXTS = Map.ofEntries(
            Map.entry(SOAP_ENCODING, soapEncoding()),
            Map.entry(XML, xml()),
            Map.entry(ADDRESSING, addressing(ADDRESSING)),
            Map.entry(OLD_ADDRESSING, addressing(OLD_ADDRESSING)),
            Map.entry(
                    SOAP11,
                    head(SOAP11) + ">" + attributes("mustUnderstand", "actor", "encodingStyle")
                            + open("Fault", "Header", "Body", "Envelope") + "</xs:schema>"),
            Map.entry(
                    SOAP12,
                    head(SOAP12) + ">" + attributes("mustUnderstand", "role", "relay", "encodingStyle")
                            + open("Fault", "Header", "Body", "Envelope") + "</xs:schema>"),
            Map.entry(WSDL, head(WSDL) + ">" + attributes("arrayType", "required") + "</xs:schema>"),
            Map.entry(MIME, mime()),
            Map.entry(
                    ATTACHMENT_REFERENCE,
                    head(ATTACHMENT_REFERENCE)
                            + "><xs:simpleType name=\"swaRef\"><xs:restriction"
                            + " base=\"xs:anyURI\"/></xs:simpleType></xs:schema>"),
            Map.entry(
                    SIGNATURE,
                    head(SIGNATURE) + ">" + open("Signature", "KeyInfo", "SignedInfo", "X509Data") + "</xs:schema>"),
            Map.entry(
                    SECURITY,
                    head(SECURITY) + ">"
                            + open("Security", "UsernameToken", "BinarySecurityToken", "SecurityTokenReference")
                            + "</xs:schema>"),
            Map.entry(
                    SECURITY_UTILITY,
                    head(SECURITY_UTILITY) + ">" + attributes("Id") + open("Timestamp") + "</xs:schema>"));

    private WellKnownSchemas() {}

    static Set<String> namespaces() {
        return Set.of(SOAP_ENCODING, XML);
    }

    /** The schema for a namespace, or null. */
    static String text(String namespace) {
        return TEXTS.get(namespace);
    }

    private static String head(String ns) {
        return "<xs:schema xmlns:xs=\"" + XmlSchemas.XSD + "\" xmlns:t=\"" + ns + "\" targetNamespace=\"" + ns + "\" ";
    }

    /** SOAP 1.1 §5: arrays, and the simple types as types with an id and a reference. */
    private static String soapEncoding() {
        StringBuilder out = new StringBuilder(head(SOAP_ENCODING) + "attributeFormDefault=\"qualified\"><xs:attribute"
                + " name=\"arrayType\""
                + " type=\"xs:string\"/><xs:attribute"
                + " name=\"offset\""
                + " type=\"xs:string\"/><xs:attribute name=\"root\""
                + " type=\"xs:boolean\"/><xs:attributeGroup"
                + " name=\"commonAttributes\"><xs:attribute"
                + " name=\"id\" type=\"xs:ID\""
                + " form=\"unqualified\"/><xs:attribute"
                + " name=\"href\" type=\"xs:anyURI\""
                + " form=\"unqualified\"/><xs:anyAttribute"
                + " namespace=\"##other\""
                + " processContents=\"lax\"/></xs:attributeGroup><xs:attributeGroup"
                + " name=\"arrayAttributes\"><xs:attribute"
                + " ref=\"t:arrayType\"/><xs:attribute"
                + " ref=\"t:offset\"/></xs:attributeGroup><xs:group"
                + " name=\"Array\"><xs:sequence><xs:any"
                + " namespace=\"##any\" minOccurs=\"0\""
                + " maxOccurs=\"unbounded\""
                + " processContents=\"lax\"/></xs:sequence></xs:group><xs:complexType"
                + " name=\"Array\"><xs:group ref=\"t:Array\""
                + " minOccurs=\"0\"/><xs:attributeGroup"
                + " ref=\"t:arrayAttributes\"/><xs:attributeGroup"
                + " ref=\"t:commonAttributes\"/></xs:complexType><xs:group"
                + " name=\"Struct\"><xs:sequence><xs:any"
                + " namespace=\"##any\" minOccurs=\"0\""
                + " maxOccurs=\"unbounded\""
                + " processContents=\"lax\"/></xs:sequence></xs:group><xs:complexType"
                + " name=\"Struct\"><xs:group ref=\"t:Struct\""
                + " minOccurs=\"0\"/><xs:attributeGroup"
                + " ref=\"t:commonAttributes\"/></xs:complexType><xs:simpleType"
                + " name=\"base64\"><xs:restriction"
                + " base=\"xs:base64Binary\"/></xs:simpleType>");
        for (String type : ENCODED) {
            out.append("<xs:complexType name=\"")
                    .append(type)
                    .append("\"><xs:simpleContent><xs:extension base=\"xs:")
                    .append(type)
                    .append("\"><xs:attributeGroup"
                            + " ref=\"t:commonAttributes\"/></xs:extension></xs:simpleContent></xs:complexType>");
        }
        return out.append("</xs:schema>").toString();
    }

    /** XML 1.0 §2.10, §2.12 and XML Base. */
    private static String xml() {
        return "<xs:schema xmlns:xs=\"" + XmlSchemas.XSD + "\" targetNamespace=\"" + XML
                + "\"><xs:attribute name=\"lang\" type=\"xs:string\"/><xs:attribute"
                + " name=\"space\"><xs:simpleType><xs:restriction base=\"xs:NCName\"><xs:enumeration"
                + " value=\"default\"/><xs:enumeration"
                + " value=\"preserve\"/></xs:restriction></xs:simpleType></xs:attribute><xs:attribute name=\"base\""
                + " type=\"xs:anyURI\"/><xs:attribute name=\"id\" type=\"xs:ID\"/><xs:attributeGroup"
                + " name=\"specialAttrs\"><xs:attribute ref=\"xml:lang\"/><xs:attribute"
                + " ref=\"xml:space\"/><xs:attribute ref=\"xml:base\"/></xs:attributeGroup></xs:schema>";
    }

    private static String attributes(String... names) {
        StringBuilder out = new StringBuilder();
        for (String name : names) {
            out.append("<xs:attribute name=\"").append(name).append("\" type=\"xs:string\"/>");
        }
        return out.toString();
    }

    /** Elements of any content, with a type of the same name for those who refer to that. */
    private static String open(String... names) {
        StringBuilder out = new StringBuilder();
        for (String name : names) {
            out.append("<xs:complexType name=\"")
                    .append(name)
                    .append("Type\"><xs:sequence><xs:any processContents=\"lax\" minOccurs=\"0\""
                            + " maxOccurs=\"unbounded\"/></xs:sequence><xs:anyAttribute"
                            + " processContents=\"lax\"/></xs:complexType>")
                    .append("<xs:element name=\"")
                    .append(name)
                    .append("\" type=\"t:")
                    .append(name)
                    .append("Type\"/>");
        }
        return out.toString();
    }

    /** Describing media content of binary data in XML §2. */
    private static String mime() {
        StringBuilder out = new StringBuilder(head(MIME) + ">" + attributes("contentType", "expectedContentTypes"));
        for (String type : new String[] {"base64Binary", "hexBinary"}) {
            out.append("<xs:complexType name=\"")
                    .append(type)
                    .append("\"><xs:simpleContent><xs:extension base=\"xs:")
                    .append(type)
                    .append("\"><xs:attribute"
                            + " ref=\"t:contentType\"/></xs:extension></xs:simpleContent></xs:complexType>");
        }
        return out.append("</xs:schema>").toString();
    }

    /** WS-Addressing 1.0 Core §2: endpoint references. */
    private static String addressing(String namespace) {
        String any = "<xs:complexType><xs:sequence><xs:any namespace=\"##any\" processContents=\"lax\" minOccurs=\"0\""
                + " maxOccurs=\"unbounded\"/></xs:sequence></xs:complexType>";
        return head(namespace)
                + "elementFormDefault=\"qualified\"><xs:complexType"
                + " name=\"AttributedURIType\"><xs:simpleContent><xs:extension base=\"xs:anyURI\"><xs:anyAttribute"
                + " namespace=\"##other\""
                + " processContents=\"lax\"/></xs:extension></xs:simpleContent></xs:complexType><xs:complexType"
                + " name=\"EndpointReferenceType\"><xs:sequence><xs:element name=\"Address\""
                + " type=\"t:AttributedURIType\"/><xs:element name=\"ReferenceParameters\" minOccurs=\"0\">" + any
                + "</xs:element><xs:element name=\"Metadata\" minOccurs=\"0\">" + any + "</xs:element><xs:any"
                + " namespace=\"##other\""
                + " processContents=\"lax\""
                + " minOccurs=\"0\""
                + " maxOccurs=\"unbounded\"/></xs:sequence><xs:anyAttribute"
                + " namespace=\"##other\""
                + " processContents=\"lax\"/></xs:complexType><xs:element"
                + " name=\"EndpointReference\""
                + " type=\"t:EndpointReferenceType\"/><xs:element"
                + " name=\"ReplyTo\""
                + " type=\"t:EndpointReferenceType\"/><xs:element"
                + " name=\"FaultTo\""
                + " type=\"t:EndpointReferenceType\"/><xs:element"
                + " name=\"From\""
                + " type=\"t:EndpointReferenceType\"/><xs:element"
                + " name=\"To\""
                + " type=\"t:AttributedURIType\"/><xs:element"
                + " name=\"Action\""
                + " type=\"t:AttributedURIType\"/><xs:element"
                + " name=\"MessageID\""
                + " type=\"t:AttributedURIType\"/><xs:element"
                + " name=\"RelatesTo\""
                + " type=\"t:AttributedURIType\"/></xs:schema>";
    }
}
