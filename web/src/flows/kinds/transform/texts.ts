/** What a step begins with: enough to see what it does. */
export const STYLESHEET = `<xsl:stylesheet version="3.0" xmlns:xsl="http://www.w3.org/1999/XSL/Transform">
  <xsl:template match="/*">
    <made>
      <xsl:copy-of select="*"/>
    </made>
  </xsl:template>
</xsl:stylesheet>
`;

export const QUERY = `<made>{*}</made>
`;

export const languageWords = (language?: string | null) => (language === 'xquery' ? 'XQuery' : 'XSLT');
