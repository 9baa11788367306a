// Package money writes and rounds amounts of a currency. An amount is a decimal number; its currency is the company's.
package money

import (
	"strings"

	"github.com/shopspring/decimal"
)

// Currency is the code of a currency (ISO 4217).
type Currency string

// The currencies people pay with, without funds, metals and codes for tests, and those that are not counted in hundredths. They are a copy
// of what golang.org/x/text/currency has, which a test compares: the library itself is 90 KB more on every device.
const (
	known = "AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BHD BIF BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CLP " +
		"CNY COP CRC CUP CVE CZK DJF " +
		"DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GNF GTQ GYD HKD HNL HTG HUF IDR ILS INR IQD IRR ISK JMD " +
		"JOD JPY KES KGS KHR KMF " +
		"KPW KRW KWD KYD KZT LAK LBP LKR LRD LSL LYD MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO " +
		"NOK NPR NZD OMR PAB PEN " +
		"PGK PHP PKR PLN PYG QAR RON RSD RUB RWF SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT " +
		"TND TOP TRY TTD TWD TZS " +
		"UAH UGX USD UYU UZS VES VND VUV WST XAF XCD XOF XPF YER ZAR ZMW ZWG"
	whole = "AFN ALL AMD BIF CLP COP DJF GNF GYD IDR IQD IRR ISK JPY KMF KPW KRW LAK LBP MGA MMK MNT MUR PKR PYG RSD RWF SOS SYP TZS " +
		"UGX UZS VND VUV XAF XOF XPF YER"
	thousandths = "BHD JOD KWD LYD OMR TND"
)

func listed(in string, c Currency) bool {
	return len(c) == 3 && !strings.Contains(string(c), " ") && strings.Contains(" "+in+" ", " "+string(c)+" ")
}

// Known tells whether there is such a currency.
func (c Currency) Known() bool { return listed(known, c) }

// Places is how many decimal places amounts of the currency have.
func (c Currency) Places() int32 {
	switch {
	case listed(whole, c):
		return 0
	case listed(thousandths, c):
		return 3
	}
	return 2
}

// Round rounds an amount to the places of the currency, halves away from zero.
func (c Currency) Round(amount decimal.Decimal) decimal.Decimal { return amount.Round(c.Places()) }

// Number writes an amount with the places of the currency: "12.50".
func (c Currency) Number(amount decimal.Decimal) string { return amount.StringFixed(c.Places()) }

// Text writes an amount with the currency: "12.50 EUR".
func (c Currency) Text(amount decimal.Decimal) string { return c.Number(amount) + " " + string(c) }
